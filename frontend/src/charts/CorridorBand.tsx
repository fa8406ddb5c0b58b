/** The corridor of week loads, with the own week load through it: the same picture in a lane and on the time axis. */

import { area, curveMonotoneX, line } from "d3-shape";
import type { Strip } from "../api/client";
import { colour } from "../theme/tokens";
import { Hatch } from "./Hatch";

export interface Weight {
  /** Of the edges: ceiling and floor. */
  edges: [number, number];
  /** Of the own line: done and planned. */
  own: [number, number];
  /** How strong what lies outside is filled, done and planned: over the ceiling, under the floor. */
  over: [number, number];
  under: [number, number];
}

export interface Frame {
  left: number;
  right: number;
  top: number;
  bottom: number;
  /** Where today begins. */
  now: number;
}

interface CorridorBandProps {
  /** Tells this picture's parts from those of others on the page. */
  id: string;
  strip: Strip;
  /** Days that are drawn, and the last day that is done. */
  places: number[];
  yesterday: number;
  x: (day: number) => number;
  y: (load: number) => number;
  frame: Frame;
  weight: Weight;
}

/** A line through the days that are known. */
export const through = (
  values: (number | null)[],
  days: number[],
  x: (day: number) => number,
  y: (load: number) => number,
) =>
  line<number>()
    .defined((i) => values[i] != null)
    .x(x)
    .y((i) => y(values[i] ?? 0))
    .curve(curveMonotoneX)(days) ?? "";

export function CorridorBand({ id, strip, places, yesterday, x, y, frame, weight }: CorridorBandProps) {
  const { left, right, top, bottom, now } = frame;
  const past = places.filter((i) => i <= yesterday);
  const ahead = places.filter((i) => i >= yesterday);
  const heights = (values: (number | null)[]) => (i: number) =>
    values[i] == null ? null : y(values[i] ?? 0);
  const [week, floor, ceiling] = [heights(strip.week), heights(strip.floor), heights(strip.ceiling)];
  /** Between two heights, where both are known. */
  const between = (one: (i: number) => number | null, other: (i: number) => number | null, of: number[]) =>
    area<number>()
      .defined((i) => one(i) !== null && other(i) !== null)
      .x(x)
      .y0((i) => one(i) ?? 0)
      .y1((i) => other(i) ?? 0)
      .curve(curveMonotoneX)(of) ?? "";
  const band = between((i) => floor(i) ?? bottom, ceiling, places);
  const clip = (part: string) => `url(#${id}${part})`;
  return (
    <>
      <defs>
        <clipPath id={`${id}over`}>
          <path d={between(() => top, ceiling, places)} />
        </clipPath>
        <clipPath id={`${id}under`}>
          <path d={between(() => bottom, floor, places)} />
        </clipPath>
        <clipPath id={`${id}past`}>
          <rect x={left} y={top} width={Math.max(0, Math.min(now, right) - left)} height={bottom - top} />
        </clipPath>
        <clipPath id={`${id}ahead`}>
          <rect x={now} y={top} width={Math.max(0, right - now)} height={bottom - top} />
        </clipPath>
        <Hatch id={`${id}hatch`} />
      </defs>
      <path d={band} fill={colour.oat} clipPath={clip("past")} />
      <path d={band} fill={clip("hatch")} clipPath={clip("ahead")} />
      <path
        d={through(strip.ceiling, places, x, y)}
        fill="none"
        stroke={colour.ceiling}
        strokeWidth={weight.edges[0]}
      />
      <path
        d={through(strip.floor, places, x, y)}
        fill="none"
        stroke={colour.floor}
        strokeWidth={weight.edges[1]}
      />
      <g clipPath={clip("over")}>
        <path d={between(ceiling, week, past)} fill={colour.madder} fillOpacity={weight.over[0]} />
        <path d={between(ceiling, week, ahead)} fill={colour.madder} fillOpacity={weight.over[1]} />
      </g>
      <g clipPath={clip("under")}>
        <path d={between(week, floor, past)} fill={colour.indigo} fillOpacity={weight.under[0]} />
        <path d={between(week, floor, ahead)} fill={colour.indigo} fillOpacity={weight.under[1]} />
      </g>
      <path
        d={through(strip.week, past, x, y)}
        fill="none"
        stroke={colour.kelp}
        strokeWidth={weight.own[0]}
      />
      <path
        d={through(strip.week, ahead, x, y)}
        fill="none"
        stroke={colour.kelp}
        strokeWidth={weight.own[1]}
        strokeDasharray="3.2 2.2"
      />
    </>
  );
}
