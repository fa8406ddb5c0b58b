import { scaleLinear, scalePoint } from "d3-scale";
import { line } from "d3-shape";
import { load } from "../frame/numbers";
import { colour } from "../theme/tokens";
import { Words } from "./Words";

export interface WeekPair {
  until: string;
  before: number | null;
  after: number | null;
}

interface BeforeAfterProps {
  weeks: WeekPair[];
  width: number;
  height?: number;
  unit: string;
  /** Short text below a week. */
  tick: (until: string) => string;
}

/** Weeks as they are (quiet line) and as they would be (own line), on one scale from 0. */
export function BeforeAfter({ weeks, width, height = 120, unit, tick }: BeforeAfterProps) {
  const most = Math.max(...weeks.flatMap((week) => [week.before ?? 0, week.after ?? 0]), 1);
  const x = scalePoint(
    weeks.map((week) => week.until),
    [40, width - 46],
  );
  const y = scaleLinear([0, most], [height - 20, 10]);
  const path = (pick: (week: WeekPair) => number | null) =>
    line<WeekPair>()
      .defined((week) => pick(week) !== null)
      .x((week) => x(week.until) ?? 0)
      .y((week) => y(pick(week) ?? 0))(weeks) ?? "";
  const last = weeks.at(-1);
  const moved = weeks.some((week) => week.before !== null && week.before !== week.after);
  const said = (value: number | null) => (value === null ? "unknown" : load(value));
  // Two labels at the right end must not stand on each other.
  const ends =
    last === undefined
      ? []
      : labelled(y(last.before ?? 0), y(last.after ?? 0), moved && last.before !== null);
  return (
    <svg
      width={width}
      height={height}
      role="img"
      aria-label={weeks
        .map((week) => `week to ${week.until}: ${said(week.before)}, then ${said(week.after)} ${unit}`)
        .join("; ")}
    >
      <line x1={30} x2={width - 40} y1={y(0)} y2={y(0)} stroke={colour.rule} />
      <Words x={0} y={y(most) + 4}>
        {load(most)}
      </Words>
      {weeks.map((week, i) => (
        <Words key={week.until} x={x(week.until)} y={height - 4} textAnchor="middle">
          {i % 2 === weeks.length % 2 ? "" : tick(week.until)}
        </Words>
      ))}
      {moved && (
        <path
          d={path((week) => week.before)}
          fill="none"
          stroke={colour.quiet}
          strokeWidth="1.5"
          strokeDasharray="4 3"
        />
      )}
      <path d={path((week) => week.after)} fill="none" stroke={colour.kelp} strokeWidth="2" />
      {weeks.map((week) =>
        week.after === null ? null : (
          <circle key={week.until} cx={x(week.until)} cy={y(week.after)} r="2.6" fill={colour.kelp} />
        ),
      )}
      {ends.map((end) => (
        <Words
          key={end.text}
          x={width - 38}
          y={end.at}
          size="small"
          fill={end.text === "then" ? colour.kelp : colour.quiet}
        >
          {end.text}
        </Words>
      ))}
    </svg>
  );
}

function labelled(before: number, after: number, both: boolean): { at: number; text: string }[] {
  const gap = 13;
  if (!both) return [{ at: after + 4, text: "then" }];
  const middle = (before + after) / 2;
  if (Math.abs(before - after) >= gap)
    return [
      { at: before + 4, text: "now" },
      { at: after + 4, text: "then" },
    ];
  const sign = before <= after ? 1 : -1;
  return [
    { at: middle - (sign * gap) / 2 + 4, text: "now" },
    { at: middle + (sign * gap) / 2 + 4, text: "then" },
  ];
}
