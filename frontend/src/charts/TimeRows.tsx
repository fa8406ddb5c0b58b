/** What the rows of the time axis share, and the rows of ratios and of work. */

import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import type { Timeline } from "../api/client";
import { colour } from "../theme/tokens";

export const LEFT = 118;

/** Days of the timeline that are shown, as places in its list: from the first through the last. */
export interface Span {
  from: number;
  to: number;
}

/** Keeps a number readable on top of a line. */
export const HALO = { stroke: colour.paper, strokeWidth: 3, paintOrder: "stroke" } as const;

const KINDS: Record<string, { name: string; fill: string }> = {
  court: { name: "court", fill: colour.kelp },
  match: { name: "match", fill: colour.ink },
  gym: { name: "gym", fill: colour.hatch },
  run: { name: "run", fill: colour.floor },
};

export function Label({ text, y, more }: { text: string; y: number; more?: string }) {
  const short = text.length > 16 ? `${text.slice(0, 15)}…` : text;
  return (
    <text x={LEFT - 8} y={y} textAnchor="end" fontSize="12" fill={colour.ink}>
      <title>{text}</title>
      {short}
      {more && (
        <tspan x={LEFT - 8} dy="14" fontSize="11" fill={colour.quiet}>
          {more}
        </tspan>
      )}
    </text>
  );
}

export type Scale = (value: number) => number;
export interface Row {
  top: number;
  height: number;
}

const SCHOOL_DASH: Record<string, string | undefined> = { ewma: undefined, coupled: "6 3", uncoupled: "2 3" };
export const SCHOOL_NAMES: Record<string, string> = {
  ewma: "weighted",
  coupled: "rolling, coupled",
  uncoupled: "rolling, uncoupled",
};

export function Ratios({
  timeline,
  schools,
  row,
  span,
  x,
}: {
  timeline: Timeline;
  schools: string[];
  row: Row;
  span: Span;
  x: Scale;
}) {
  const places = Array.from({ length: span.to - span.from + 1 }, (_, i) => span.from + i);
  const y = scaleLinear([0.4, 1.8], [row.top + row.height, row.top]).clamp(true);
  return (
    <g>
      <Label text="Ratio" y={row.top + 14} more="week / base" />
      {[0.8, 1.3].map((tick) => (
        <g key={tick}>
          <line x1={LEFT} x2={x(span.to + 0.5)} y1={y(tick)} y2={y(tick)} stroke={colour.ruleSoft} />
          <text x={LEFT + 3} y={y(tick) - 2} fontSize="10.5" fill={colour.quiet} {...HALO}>
            {tick}
          </text>
        </g>
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
                .y((i) => y(school.ratio[i] ?? 0))(places) ?? ""
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

export function Work({ timeline, row, span, x }: { timeline: Timeline; row: Row; span: Span; x: Scale }) {
  const kinds = Object.keys(timeline.minutes);
  const places = Array.from({ length: span.to - span.from + 1 }, (_, i) => span.from + i);
  const total = (i: number) => kinds.reduce((sum, kind) => sum + (timeline.minutes[kind]?.[i] ?? 0), 0);
  const y = scaleLinear([0, Math.max(60, ...places.map(total))], [0, row.height - 12]);
  const step = Math.max(1, (x(1) - x(0)) * 0.6);
  return (
    <g>
      <Label text="Work" y={row.top + 14} more="minutes" />
      {places.map((i) => {
        let stacked = 0;
        return kinds.map((kind) => {
          const minutes = timeline.minutes[kind]?.[i] ?? 0;
          if (!minutes) return null;
          stacked += minutes;
          return (
            <rect
              key={`${i} ${kind}`}
              x={x(i) - step / 2}
              y={row.top + row.height - y(stacked)}
              width={step}
              height={y(minutes)}
              fill={KINDS[kind]?.fill ?? colour.quiet}
            />
          );
        });
      })}
      {kinds.map((kind, i) => (
        <g key={kind} transform={`translate(${LEFT + 4 + i * 62} ${row.top + 3})`}>
          <rect width="8" height="8" fill={KINDS[kind]?.fill ?? colour.quiet} />
          <text x="12" y="8" fontSize="11" fill={colour.quiet}>
            {KINDS[kind]?.name ?? kind}
          </text>
        </g>
      ))}
    </g>
  );
}
