import { scaleLinear } from "d3-scale";
import { area, curveMonotoneX, line } from "d3-shape";
import { Fragment, memo, useId } from "react";
import type { Strip, Timeline } from "../api/client";
import { dayAndMonth } from "../frame/days";
import * as say from "../frame/numbers";
import { colour } from "../theme/tokens";
import { HALO, Label, LEFT, Ratios, type Row, type Scale, type Span, Work } from "./TimeRows";

export type { Span } from "./TimeRows";

const RIGHT = 14;
const TOP = 22;

interface TimeAxisProps {
  timeline: Timeline;
  span: Span;
  width: number;
  /** Day under the pointer or the arrow keys, a place in the list. */
  at: number;
  /** Week load to compare with, dashed, and whose it is. */
  beside: { name: string; week: (number | null)[] } | null;
  /** Schools whose ratio is drawn. */
  schools: string[];
}

const MAIN = 150;
const OTHER = 58;
const WORK = 46;
const RATIO = 64;
const ITEM = 17;
const TEST = 44;
const GAP = 12;

/** The height of each panel, top to bottom; what is not there takes no room. */
function layOut(timeline: Timeline, schools: string[]) {
  const rows: { key: string; top: number; height: number }[] = [];
  let top = TOP;
  const add = (key: string, height: number) => {
    rows.push({ key, top, height });
    top += height + GAP;
  };
  for (const [i, one] of timeline.channels.entries())
    add(`channel ${one.channel.code}`, i === 0 ? MAIN : OTHER);
  if (schools.length > 0) add("ratio", RATIO);
  add("work", WORK);
  if (timeline.items.length > 0) add("items", timeline.items.length * ITEM);
  for (const test of timeline.tests) add(`test ${test.code}`, TEST);
  add("calls", 26);
  return { rows, height: top };
}

/** Everything of one athlete under each other on one axis of days. */
export const TimeAxis = memo(function TimeAxis(props: TimeAxisProps) {
  const { timeline, span, width, at, beside, schools } = props;
  const { rows, height } = layOut(timeline, schools);
  const x = scaleLinear([span.from - 0.5, span.to + 0.5], [LEFT, width - RIGHT]);
  const today = timeline.days.indexOf(timeline.as_of);
  const panel = (key: string) => rows.find((row) => row.key === key);
  const places = Array.from({ length: span.to - span.from + 1 }, (_, i) => span.from + i);
  const every = [7, 14, 28, 56, 112].find((step) => (x(step) as number) - (x(0) as number) > 52) ?? 112;
  const items = panel("items");
  const calls = panel("calls");
  const work = panel("work");
  const ratio = panel("ratio");
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`${timeline.name} from ${dayAndMonth(timeline.days[span.from] ?? "")} to ${dayAndMonth(timeline.days[span.to] ?? "")}`}
    >
      {timeline.breaks.map((one) => {
        const from = Math.max(timeline.days.indexOf(one.first), span.from);
        const last =
          one.last > (timeline.days.at(-1) ?? "")
            ? timeline.days.length - 1
            : timeline.days.indexOf(one.last);
        const to = Math.min(last, span.to);
        if (to < from || last < 0) return null;
        return (
          <g key={one.first + one.why}>
            <rect
              x={x(from - 0.5)}
              y={TOP}
              width={x(to + 0.5) - x(from - 0.5)}
              height={height - TOP}
              fill={colour.plum}
              opacity="0.07"
            />
            <line
              x1={x(from - 0.5)}
              x2={x(to + 0.5)}
              y1={TOP - 1}
              y2={TOP - 1}
              stroke={colour.plum}
              strokeWidth="2.5"
            >
              <title>{one.why}</title>
            </line>
          </g>
        );
      })}
      {places
        .filter((i) => (i - today) % every === 0)
        .map((i) => (
          <g key={i}>
            <line x1={x(i)} x2={x(i)} y1={TOP} y2={height} stroke={colour.ruleSoft} />
            {Math.abs(x(i) - x(today)) > 30 && (
              <text
                x={x(i)}
                y="13"
                textAnchor={x(i) > width - 34 ? "end" : "middle"}
                fontSize="11"
                fill={colour.quiet}
              >
                {dayAndMonth(timeline.days[i] ?? "")}
              </text>
            )}
          </g>
        ))}
      {timeline.channels.map((one, i) => {
        const row = panel(`channel ${one.channel.code}`);
        return (
          row && (
            <Corridor
              key={one.channel.code}
              name={one.channel.name}
              unit={one.channel.unit}
              strip={one.strip}
              row={row}
              span={span}
              today={today}
              x={x}
              beside={i === 0 ? beside : null}
            />
          )
        );
      })}
      {ratio && <Ratios timeline={timeline} schools={schools} row={ratio} span={span} x={x} />}
      {work && <Work timeline={timeline} row={work} span={span} x={x} />}
      {items &&
        timeline.items.map((item, i) => {
          const y = items.top + i * ITEM + ITEM / 2;
          return (
            <g key={item.item}>
              <Label text={item.name} y={y + 4} />
              <line x1={LEFT} x2={width - RIGHT} y1={y} y2={y} stroke={colour.ruleSoft} />
              {places.map((day) => {
                const z = item.z[day];
                if (z == null) return null;
                const worse = z <= -1;
                return (
                  <line
                    key={day}
                    x1={x(day)}
                    x2={x(day)}
                    y1={y}
                    y2={y - (Math.max(-3, Math.min(3, z)) / 3) * (ITEM / 2 - 1)}
                    stroke={worse ? colour.ochre : colour.quiet}
                    strokeWidth={z <= -1.5 ? 3 : worse ? 2 : 1}
                  />
                );
              })}
            </g>
          );
        })}
      {timeline.tests.map((test) => {
        const row = panel(`test ${test.code}`);
        if (!row) return null;
        const error = test.error ?? 0;
        const low = Math.min(...test.values);
        const high = Math.max(...test.values);
        const y = scaleLinear([low - error, high + error || 1], [row.top + row.height - 4, row.top + 4]);
        return (
          <g key={test.code}>
            <Label text={test.name} y={row.top + row.height / 2} more={test.unit} />
            {test.days.map((day, i) => {
              const place = timeline.days.indexOf(day);
              const value = test.values[i];
              if (value === undefined || place < span.from || place > span.to) return null;
              return (
                <Fragment key={day}>
                  <line
                    x1={x(place)}
                    x2={x(place)}
                    y1={y(value - error)}
                    y2={y(value + error)}
                    stroke={colour.hatch}
                    strokeWidth="5"
                  />
                  <circle cx={x(place)} cy={y(value)} r="3" fill={colour.ink}>
                    <title>{`${test.name} ${say.fine(value)} ${test.unit}`}</title>
                  </circle>
                </Fragment>
              );
            })}
          </g>
        );
      })}
      {calls && (
        <g>
          <Label text="Calls" y={calls.top + 16} />
          {timeline.calls.map((one) => {
            const place = timeline.days.indexOf(one.day);
            if (place < span.from || place > span.to) return null;
            return (
              <g key={one.call.id}>
                <rect x={x(place) - 8} y={calls.top + 4} width="16" height="16" rx="2" fill={colour.kelp} />
                <text x={x(place)} y={calls.top + 16} textAnchor="middle" fontSize="11" fill={colour.raised}>
                  {one.call.kind === "recover" ? "C" : one.call.kind[0]?.toUpperCase()}
                </text>
                <title>{`${one.call.kind}: ${one.call.reason}`}</title>
              </g>
            );
          })}
        </g>
      )}
      {today >= span.from && today <= span.to && (
        <>
          <line
            x1={x(today - 0.5)}
            x2={x(today - 0.5)}
            y1={TOP - 6}
            y2={height}
            stroke={colour.ink}
            strokeWidth="1.2"
          />
          <text
            x={x(today - 0.5)}
            y="13"
            textAnchor="middle"
            fontSize="11.5"
            fontWeight="700"
            fill={colour.ink}
          >
            now
          </text>
        </>
      )}
      {at >= span.from && at <= span.to && (
        <line x1={x(at)} x2={x(at)} y1={TOP} y2={height} stroke={colour.kelp} strokeDasharray="2 2" />
      )}
    </svg>
  );
});

/** Place of a day from where the pointer is. */
export function placeAt(clientX: number, box: DOMRect, span: Span): number {
  const inner = box.width - LEFT - RIGHT;
  const share = (clientX - box.left - LEFT) / inner;
  return Math.max(
    span.from,
    Math.min(span.to, Math.round(span.from - 0.5 + share * (span.to - span.from + 1))),
  );
}

interface CorridorProps {
  name: string;
  unit: string;
  strip: Strip;
  row: Row;
  span: Span;
  today: number;
  x: Scale;
  beside: TimeAxisProps["beside"];
}

function Corridor({ name, unit, strip, row, span, today, x, beside }: CorridorProps) {
  const id = useId();
  const places = Array.from({ length: span.to - span.from + 1 }, (_, i) => span.from + i);
  const seen = places
    .flatMap((i) => [strip.week[i], strip.floor[i], beside?.week[i]])
    .filter((v) => v != null);
  const ceilings = places.map((i) => strip.ceiling[i]).filter((v) => v != null);
  const top = Math.max(1, ...seen, Math.min(Math.max(0, ...ceilings), Math.max(1, ...seen) * 1.4));
  const bars = row.height * 0.24;
  const y = scaleLinear([0, top * 1.05], [row.top + row.height - bars, row.top]).clamp(true);
  const highest = Math.max(1, ...places.map((i) => strip.load[i] ?? 0));
  const bar = scaleLinear([0, highest], [0, bars - 4]);
  const band = area<number>()
    .defined((i) => strip.ceiling[i] != null)
    .x((i) => x(i))
    .y0((i) => y(strip.floor[i] ?? 0))
    .y1((i) => y(strip.ceiling[i] ?? 0))
    .curve(curveMonotoneX);
  const drawn = (values: (number | null)[]) =>
    line<number>()
      .defined((i) => values[i] != null)
      .x((i) => x(i))
      .y((i) => y(values[i] ?? 0))
      .curve(curveMonotoneX);
  const past = places.filter((i) => i <= today - 1);
  const ahead = places.filter((i) => i >= today - 1);
  const step = Math.max(1, (x(1) - x(0)) * 0.6);
  const base = row.top + row.height;
  return (
    <g>
      <Label text={name} y={row.top + 14} more={unit} />
      <clipPath id={id}>
        <rect x={LEFT} y={row.top - 1} width={x(span.to + 0.5) - LEFT} height={row.height + 2} />
      </clipPath>
      <g clipPath={`url(#${id})`}>
        <path d={band(places) ?? ""} fill={colour.oat} opacity="0.85" />
        <path d={drawn(strip.ceiling)(places) ?? ""} fill="none" stroke={colour.ceiling} />
        <path d={drawn(strip.floor)(places) ?? ""} fill="none" stroke={colour.floor} strokeDasharray="1 2" />
        {beside && (
          <path
            d={drawn(beside.week)(places) ?? ""}
            fill="none"
            stroke={colour.indigo}
            strokeWidth="1.4"
            strokeDasharray="5 3"
          />
        )}
        <path d={drawn(strip.week)(past) ?? ""} fill="none" stroke={colour.kelp} strokeWidth="2" />
        <path
          d={drawn(strip.week)(ahead) ?? ""}
          fill="none"
          stroke={colour.kelp}
          strokeWidth="1.6"
          strokeDasharray="2 3"
        />
        {places.map((i) => {
          const value = strip.load[i];
          const state = strip.state[i];
          if (state === "missing")
            return (
              <rect
                key={i}
                x={x(i) - step / 2}
                y={base - 6}
                width={step}
                height="6"
                fill="none"
                stroke={colour.quiet}
                strokeWidth="0.8"
              />
            );
          if (!value) return null;
          const planned = state === "planned";
          const estimated = state === "estimated";
          return (
            <rect
              key={i}
              x={x(i) - step / 2}
              y={base - bar(value)}
              width={step}
              height={bar(value)}
              fill={planned || estimated ? "none" : colour.quiet}
              stroke={planned || estimated ? colour.quiet : "none"}
              strokeWidth="0.8"
              strokeDasharray={estimated ? "1.5 1.5" : undefined}
            />
          );
        })}
        {places
          .filter((i) => strip.side[i] === "over" && i <= today)
          .map((i) => (
            <circle key={i} cx={x(i)} cy={y(strip.week[i] ?? 0)} r="2.6" fill={colour.madder} />
          ))}
        {places
          .filter((i) => strip.side[i] === "under" && i <= today)
          .map((i) => (
            <circle key={i} cx={x(i)} cy={y(strip.week[i] ?? 0)} r="2.4" fill={colour.indigo} />
          ))}
      </g>
      {row.height > 70 &&
        y.ticks(3).map((tick) => (
          <text key={tick} x={LEFT + 3} y={y(tick) - 2} fontSize="10.5" fill={colour.quiet} {...HALO}>
            {say.load(tick)}
          </text>
        ))}
    </g>
  );
}
