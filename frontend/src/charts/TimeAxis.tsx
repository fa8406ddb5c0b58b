import { scaleLinear } from "d3-scale";
import { memo } from "react";
import type { NoticeRun, Timeline } from "../api/client";
import { dayAndMonth } from "../frame/days";
import { colour } from "../theme/tokens";
import { TimeCorridor } from "./TimeCorridor";
import {
  CallRow,
  Competitions,
  causesOf,
  ITEM,
  Items,
  LEFT,
  NOTICE,
  Noticed,
  placesOf,
  Ratios,
  RIGHT,
  type Row,
  type Scale,
  type Span,
  TestRow,
  Work,
  Zones,
} from "./TimeRows";
import { Words } from "./Words";

export type { Span } from "./TimeRows";

const TOP = 22;
const GAP = 12;

interface TimeAxisProps {
  timeline: Timeline;
  /** What was noticed, as far as it is there yet. */
  runs: NoticeRun[];
  span: Span;
  width: number;
  /** Day under the pointer or the arrow keys, a place in the list. */
  at: number;
  /** Week load to compare with, dashed, and whose it is. */
  beside: { name: string; week: (number | null)[] } | null;
  /** Schools whose ratio is drawn. */
  schools: string[];
}

/** The place of each panel, top to bottom; what is not there takes no room. */
function layOut(timeline: Timeline, runs: NoticeRun[], schools: string[]) {
  const rows = new Map<string, Row>();
  let top = TOP;
  const add = (key: string, height: number) => {
    if (height <= 0) return;
    rows.set(key, { top, height });
    top += height + GAP;
  };
  if (timeline.competitions.length > 0) add("competitions", 10);
  for (const [i, one] of timeline.channels.entries()) add(one.channel.code, i === 0 ? 168 : 52);
  add("noticed", causesOf(runs).length * NOTICE);
  add("calls", timeline.calls.length > 0 ? 26 : 0);
  add("items", timeline.items.length * ITEM);
  for (const test of timeline.tests) add(`test ${test.code}`, 42);
  add("work", 52);
  add("zones", timeline.zones ? 52 : 0);
  add("ratio", schools.length > 0 ? 58 : 0);
  return { rows, height: top };
}

/** Everything of one athlete under each other on one axis of days. */
export const TimeAxis = memo(function TimeAxis(props: TimeAxisProps) {
  const { timeline, runs, span, width, at, beside, schools } = props;
  const { rows, height } = layOut(timeline, runs, schools);
  const x = scaleLinear([span.from - 0.5, span.to + 0.5], [LEFT, width - RIGHT]);
  const today = timeline.days.indexOf(timeline.as_of);
  const of = (key: string) => rows.get(key);
  const shared = { timeline, span, x };
  const [noticed, calls, items, work, zones, ratio, competitions] = [
    "noticed",
    "calls",
    "items",
    "work",
    "zones",
    "ratio",
    "competitions",
  ].map(of);
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={`${timeline.name} from ${dayAndMonth(timeline.days[span.from] ?? "")} to ${dayAndMonth(timeline.days[span.to] ?? "")}`}
    >
      <Breaks timeline={timeline} span={span} x={x} height={height} />
      <Dates timeline={timeline} span={span} x={x} width={width} height={height} today={today} />
      {competitions && <Competitions {...shared} row={competitions} />}
      {timeline.channels.map(({ channel, strip }, i) => {
        const row = of(channel.code);
        return (
          row && (
            <TimeCorridor
              key={channel.code}
              name={channel.name}
              unit={i === 0 ? "7 days" : channel.unit}
              strip={strip}
              row={row}
              span={span}
              today={today}
              x={x}
              base={i === 0 ? timeline.base : undefined}
              beside={i === 0 ? beside?.week : undefined}
            />
          )
        );
      })}
      {noticed && <Noticed {...shared} runs={runs} row={noticed} />}
      {calls && <CallRow {...shared} row={calls} />}
      {items && <Items {...shared} row={items} />}
      {timeline.tests.map((test) => {
        const row = of(`test ${test.code}`);
        return row && <TestRow key={test.code} {...shared} test={test} row={row} />;
      })}
      {work && <Work {...shared} row={work} />}
      {zones && <Zones zones={timeline.zones} span={span} x={x} row={zones} />}
      {ratio && <Ratios {...shared} schools={schools} row={ratio} />}
      {today >= span.from && today <= span.to && (
        <line
          x1={x(today - 0.5)}
          x2={x(today - 0.5)}
          y1={TOP - 6}
          y2={height}
          stroke={colour.ink}
          strokeWidth="1.2"
        />
      )}
      {at >= span.from && at <= span.to && (
        <line x1={x(at)} x2={x(at)} y1={TOP} y2={height} stroke={colour.ink} strokeDasharray="1.5 3" />
      )}
    </svg>
  );
});

interface PartProps {
  timeline: Timeline;
  span: Span;
  x: Scale;
  height: number;
}

/** Days without load, and days under a clinician's restriction, behind everything. */
function Breaks({ timeline, span, x, height }: PartProps) {
  return timeline.breaks.map((one) => {
    const from = Math.max(timeline.days.indexOf(one.first), span.from);
    const beyond = one.last > (timeline.days.at(-1) ?? "");
    const last = beyond ? timeline.days.length - 1 : timeline.days.indexOf(one.last);
    const to = Math.min(last, span.to);
    if (to < from || last < 0) return null;
    const [left, right] = [x(from - 0.5), x(to + 0.5)];
    return (
      <g key={one.first + one.why}>
        <title>{one.why}</title>
        <rect x={left} y={TOP} width={right - left} height={height - TOP} fill={colour.plum} opacity="0.06" />
        <line x1={left} x2={right} y1={TOP - 1} y2={TOP - 1} stroke={colour.plum} strokeWidth="2.5" />
      </g>
    );
  });
}

/** Dates a week or more apart, and now. */
function Dates({ timeline, span, x, width, height, today }: PartProps & { width: number; today: number }) {
  const every = [7, 14, 28, 56, 112].find((step) => x(step) - x(0) > 52) ?? 112;
  const shownNow = today >= span.from && today <= span.to;
  return (
    <g>
      {placesOf(span)
        .filter((i) => (i - today) % every === 0)
        .map((i) => (
          <g key={i}>
            <line x1={x(i)} x2={x(i)} y1={TOP} y2={height} stroke={colour.ruleSoft} />
            {Math.abs(x(i) - x(today)) > 34 && (
              <Words x={x(i)} y="13" textAnchor={x(i) > width - 34 ? "end" : "middle"} fill={colour.quiet}>
                {dayAndMonth(timeline.days[i] ?? "")}
              </Words>
            )}
          </g>
        ))}
      {shownNow && (
        <Words x={x(today - 0.5)} y="13" textAnchor="middle" size="small" strong fill={colour.ink}>
          now
        </Words>
      )}
    </g>
  );
}

/** Place of a day from where the pointer is. */
export function placeAt(clientX: number, box: DOMRect, span: Span): number {
  const inner = box.width - LEFT - RIGHT;
  const share = (clientX - box.left - LEFT) / inner;
  return Math.max(
    span.from,
    Math.min(span.to, Math.round(span.from - 0.5 + share * (span.to - span.from + 1))),
  );
}
