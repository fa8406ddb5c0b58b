/** The rows of the time axis below the corridors, and what they share. */

import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { NoticeRun, Timeline } from "../api/client";
import { mediumDay } from "../frame/days";
import * as say from "../frame/numbers";
import { colour, type } from "../theme/tokens";
import { NotchPath } from "./Notch";
import { Words } from "./Words";

export const LEFT = 118;
/** Space right of the last day. */
export const RIGHT = 14;

/** Days of the timeline that are shown, as places in its list: from the first through the last. */
export interface Span {
  from: number;
  to: number;
}

/** Keeps a word readable on top of a line. */
export const HALO = { stroke: colour.paper, strokeWidth: 3, paintOrder: "stroke" } as const;

export type Scale = (value: number) => number;
export interface Row {
  top: number;
  height: number;
}

export interface RowProps {
  timeline: Timeline;
  row: Row;
  span: Span;
  x: Scale;
}

export const placesOf = (span: Span) =>
  Array.from({ length: span.to - span.from + 1 }, (_, i) => span.from + i);

/** The name of a row, at the left. */
export function Label({ text, y, more }: { text: string; y: number; more?: string }) {
  // A long name goes on in the line below it.
  const at = text.length > 16 ? text.lastIndexOf(" ", 16) : -1;
  const [first, rest] = at > 0 ? [text.slice(0, at), text.slice(at + 1)] : [text, ""];
  const below = [rest, more].filter(Boolean).join(", ");
  return (
    <Words x="0" y={y} size="small" fill={colour.ink}>
      <title>{text}</title>
      {first}
      {below && (
        <tspan x="0" dy="14" style={{ fontSize: type.fine }} fill={colour.quiet}>
          {below}
        </tspan>
      )}
    </Words>
  );
}

/** A number of a scale, left of the first day, with its line. */
export function Tick({ y, right, children }: { y: number; right: number; children: string | number }) {
  return (
    <>
      <line x1={LEFT} x2={right} y1={y} y2={y} stroke={colour.rule} strokeOpacity="0.55" />
      <Words x={LEFT - 5} y={y + 3.5} textAnchor="end">
        {children}
      </Words>
    </>
  );
}

/** Matches and races as diamonds: solid when done, hollow when still to come. */
export function Competitions({ timeline, row, span, x }: RowProps) {
  const today = timeline.days.indexOf(timeline.as_of);
  return (
    <g>
      <Label
        text={timeline.competitions.some((one) => one.match) ? "Matches" : "Competition"}
        y={row.top + 9}
      />
      {timeline.competitions.map(({ day, name }) => {
        const at = timeline.days.indexOf(day);
        if (at < span.from || at > span.to) return null;
        return (
          <path
            key={day}
            d={`M${x(at)} ${row.top + 1}l4 4l-4 4l-4 -4z`}
            fill={at < today ? colour.ink : "none"}
            stroke={colour.ink}
          >
            <title>{`${name}, ${mediumDay(day)}`}</title>
          </path>
        );
      })}
    </g>
  );
}

const SCHOOL_DASH: Record<string, string | undefined> = { ewma: undefined, coupled: "6 3", uncoupled: "2 3" };
export const SCHOOL_NAMES: Record<string, string> = {
  ewma: "weighted",
  coupled: "rolling, coupled",
  uncoupled: "rolling, uncoupled",
};

export function Ratios({ timeline, schools, row, span, x }: RowProps & { schools: string[] }) {
  const y = scaleLinear([0.4, 1.8], [row.top + row.height, row.top]).clamp(true);
  return (
    <g>
      <Label text="Ratio" y={row.top + 14} more="week / base" />
      {[0.8, 1.3].map((tick) => (
        <Tick key={tick} y={y(tick)} right={x(span.to + 0.5)}>
          {tick}
        </Tick>
      ))}
      {timeline.schools
        .filter((school) => schools.includes(school.code))
        .map((school) => (
          <path
            key={school.code}
            d={
              line<number>()
                .defined((i) => school.ratio[i] != null)
                .x((i) => x(i))
                .y((i) => y(school.ratio[i] ?? 0))(placesOf(span)) ?? ""
            }
            fill="none"
            stroke={colour.kelpDeep}
            strokeWidth="1.5"
            strokeDasharray={SCHOOL_DASH[school.code]}
          />
        ))}
    </g>
  );
}

const KINDS: Record<string, string> = {
  court: colour.kelpMiddle,
  match: colour.ink,
  gym: colour.quiet,
  run: colour.hatch,
  ski: colour.kelp,
};

/** Minutes of each day by kind of work, stacked. */
export function Work({ timeline, row, span, x }: RowProps) {
  const kinds = Object.keys(timeline.minutes);
  return (
    <Stacks
      label="Work"
      parts={kinds.map((kind) => ({
        name: kind,
        fill: KINDS[kind] ?? colour.hatch,
        minutes: timeline.minutes[kind] ?? [],
      }))}
      row={row}
      span={span}
      x={x}
    />
  );
}

/** From easy to hard: pale, middle and dark, by how many there are. */
const ZONE_FILLS: Record<number, string[]> = {
  3: [colour.paleKelp, colour.kelpMiddle, colour.ink],
  5: [colour.paleKelp, colour.kelpLight, colour.kelpMiddle, colour.kelp, colour.ink],
};

/** Minutes in zones of heart rate, stacked. */
export function Zones({ zones, row, span, x }: Omit<RowProps, "timeline"> & { zones: Timeline["zones"] }) {
  if (!zones) return null;
  const fills = ZONE_FILLS[zones.names.length] ?? [];
  return (
    <Stacks
      label="Zones"
      parts={zones.names.map((name, i) => ({
        name: `${i + 1}`,
        title: name,
        fill: fills[i] ?? colour.quiet,
        minutes: zones.minutes[i] ?? [],
      }))}
      row={row}
      span={span}
      x={x}
    />
  );
}

interface StacksProps extends Omit<RowProps, "timeline"> {
  label: string;
  parts: { name: string; title?: string; fill: string; minutes: number[] }[];
}

function Stacks({ label, parts, row, span, x }: StacksProps) {
  const places = placesOf(span);
  const total = (i: number) => parts.reduce((sum, part) => sum + (part.minutes[i] ?? 0), 0);
  const y = scaleLinear([0, Math.max(60, ...places.map(total))], [0, row.height - 14]);
  const step = Math.max(1, (x(1) - x(0)) * 0.6);
  let at = LEFT;
  return (
    <g>
      <Label text={label} y={row.top + 24} more="minutes" />
      {places.map((i) => {
        let stacked = 0;
        return parts.map((part) => {
          const minutes = part.minutes[i] ?? 0;
          if (!minutes) return null;
          stacked += minutes;
          return (
            <rect
              key={`${i} ${part.name}`}
              x={x(i) - step / 2}
              y={row.top + row.height - y(stacked)}
              width={step}
              height={y(minutes)}
              fill={part.fill}
            />
          );
        });
      })}
      {parts.map((part) => {
        const here = at;
        at += 24 + part.name.length * 6.5;
        return (
          <g key={part.name} transform={`translate(${here} ${row.top})`}>
            <title>{part.title ?? part.name}</title>
            <rect width="8" height="8" fill={part.fill} />
            <Words x="12" y="8">
              {part.name}
            </Words>
          </g>
        );
      })}
    </g>
  );
}

export const ITEM = 18;

/** Reports against own norms, an item a line: up is better, worse is ochre. */
export function Items({ timeline, row, span, x }: RowProps) {
  const right = x(span.to + 0.5);
  const step = Math.max(1.6, (x(1) - x(0)) * 0.7);
  return (
    <g>
      {timeline.items.map((item, i) => {
        const middle = row.top + i * ITEM + ITEM / 2;
        return (
          <g key={item.item}>
            <Label text={item.name} y={middle + 4} />
            <rect
              x={LEFT}
              y={middle - 3}
              width={right - LEFT}
              height="6"
              fill={colour.ruleSoft}
              opacity="0.6"
            />
            {placesOf(span).map((day) => {
              const z = item.z[day];
              if (z == null) return null;
              const at = middle - (Math.max(-3, Math.min(3, z)) / 3) * (ITEM / 2 - 1.5);
              return (
                <line
                  key={day}
                  x1={x(day) - step / 2}
                  x2={x(day) + step / 2}
                  y1={at}
                  y2={at}
                  stroke={z <= -1 ? colour.ochre : colour.quiet}
                  strokeWidth={z <= -1.5 ? 3.2 : 1.8}
                />
              );
            })}
          </g>
        );
      })}
    </g>
  );
}

/** Results of a test: the line of results on a band of the typical error around each. */
export function TestRow({ test, timeline, row, span, x }: RowProps & { test: Timeline["tests"][number] }) {
  const error = test.error ?? 0;
  const y = scaleLinear(
    [Math.min(...test.values) - error, Math.max(...test.values) + (error || 1)],
    [row.top + row.height - 4, row.top + 4],
  );
  const points = test.days
    .map((day, i) => ({ day, at: timeline.days.indexOf(day), value: test.values[i] ?? 0 }))
    .filter((one) => one.at >= span.from && one.at <= span.to);
  const band = [
    ...points.map((one) => `${x(one.at)},${y(one.value + error)}`),
    ...[...points].reverse().map((one) => `${x(one.at)},${y(one.value - error)}`),
  ].join(" ");
  return (
    <g>
      <Label text={test.name} y={row.top + row.height / 2} more={test.unit} />
      {points.length > 1 && <polygon points={band} fill={colour.ruleSoft} />}
      <polyline
        points={points.map((one) => `${x(one.at)},${y(one.value)}`).join(" ")}
        fill="none"
        stroke={colour.quiet}
      />
      {points.map((one, i) => (
        <g key={one.day}>
          <circle cx={x(one.at)} cy={y(one.value)} r="3" fill={colour.ink}>
            <title>{`${test.name} ${say.fine(one.value)} ${test.unit}, ${mediumDay(one.day)}`}</title>
          </circle>
          {i === points.length - 1 && (
            <Words
              x={x(one.at)}
              y={y(one.value) - 6 < row.top + 8 ? y(one.value) + 14 : y(one.value) - 6}
              textAnchor="middle"
              fill={colour.ink}
            >
              {say.fine(one.value)}
            </Words>
          )}
        </g>
      ))}
    </g>
  );
}

export const NOTICE = 15;
const CAUSE_NAMES: Record<NoticeRun["cause"], string> = {
  load: "Notices: load",
  base: "base",
  reports: "reports",
  tests: "tests",
  clinical: "clinical",
  data: "missing",
  review: "to review",
};

/** Causes that something was noticed of, in the order they are drawn. */
export const causesOf = (runs: NoticeRun[]) =>
  (Object.keys(CAUSE_NAMES) as NoticeRun["cause"][]).filter((cause) =>
    runs.some((run) => run.cause === cause),
  );

/** What was noticed, a line a cause: a notch where it began, a line for as long as it stood. */
export function Noticed({ runs, timeline, row, span, x }: RowProps & { runs: NoticeRun[] }) {
  return (
    <g>
      {causesOf(runs).map((cause, i) => {
        const middle = row.top + i * NOTICE + NOTICE / 2;
        const name = CAUSE_NAMES[cause];
        return (
          <g key={cause}>
            <Label text={i === 0 && !name.startsWith("Notices") ? `Notices: ${name}` : name} y={middle + 4} />
            {/* The most pressing last, so that it lies on top. */}
            {[...runs]
              .filter((run) => run.cause === cause)
              .sort((a, b) => ORDER[b.severity] - ORDER[a.severity])
              .map((run) => {
                const from = Math.max(timeline.days.indexOf(run.first), span.from);
                const to = Math.min(timeline.days.indexOf(run.last), span.to);
                if (to < from) return null;
                const began = timeline.days.indexOf(run.first) >= span.from;
                return (
                  <g key={`${run.first}${run.code}${run.channel}${run.sentence}`}>
                    <title>{`${mediumDay(run.first)} to ${mediumDay(run.last)}: ${run.channel ? `${run.channel}: ` : ""}${run.sentence}`}</title>
                    <line
                      x1={x(from)}
                      x2={x(to) + 3}
                      y1={middle}
                      y2={middle}
                      stroke={LINES[run.shape]}
                      strokeWidth={run.severity === "note" ? 1 : 2.4}
                      strokeOpacity="0.55"
                    />
                    {began && (
                      <g transform={`translate(${x(from) - 4.5} ${middle - 4.5}) scale(0.75)`}>
                        <NotchPath shape={run.shape} severity={run.severity} />
                      </g>
                    )}
                  </g>
                );
              })}
          </g>
        );
      })}
    </g>
  );
}

const ORDER: Record<NoticeRun["severity"], number> = { act: 0, watch: 1, note: 2 };
const LINES: Record<NoticeRun["shape"], string> = {
  over: colour.madder,
  under: colour.indigo,
  wave: colour.ochre,
  gap: colour.quiet,
  link: colour.plum,
};

const CALL_KEYS: Record<string, string> = {
  full: "1",
  adapt: "2",
  minimum: "3",
  recover: "4",
  rest: "5",
  refer: "6",
};

/** Calls by their key; the line below says whether the day was as called: whole kept, dotted more, short less. */
export function CallRow({ timeline, row, span, x }: RowProps) {
  // Calls of two days running stand beside each other.
  const width = Math.max(8, Math.min(14, x(1) - x(0) - 0.5));
  return (
    <g>
      <Label text="Calls" y={row.top + 13} more="line: as called" />
      {timeline.calls.map((one) => {
        const at = timeline.days.indexOf(one.day);
        if (at < span.from || at > span.to) return null;
        const half = (one.kept === "less" ? 0.28 : 0.5) * width;
        return (
          <g key={one.call.id}>
            <title>{`${mediumDay(one.day)}: ${one.call.kind}${one.call.reason ? `, ${one.call.reason}` : ""}`}</title>
            <rect
              x={x(at) - width / 2}
              y={row.top + 1}
              width={width}
              height="15"
              rx="2"
              fill={colour.raised}
              stroke={colour.quiet}
            />
            <Words x={x(at)} y={row.top + 12.5} textAnchor="middle" fill={colour.ink}>
              {CALL_KEYS[one.call.kind] ?? "–"}
            </Words>
            {one.kept && (
              <line
                x1={x(at) - half}
                x2={x(at) + half}
                y1={row.top + 20}
                y2={row.top + 20}
                stroke={
                  one.kept === "kept" ? colour.kelp : one.kept === "less" ? colour.indigo : colour.madder
                }
                strokeWidth="2"
                strokeDasharray={one.kept === "more" || one.kept === "harder" ? "2 2" : undefined}
              />
            )}
          </g>
        );
      })}
    </g>
  );
}
