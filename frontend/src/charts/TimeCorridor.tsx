/** One kind of work on the time axis: its corridor, the week load through it, and the days below. */

import { scaleLinear } from "d3-scale";
import { area, curveMonotoneX, line } from "d3-shape";
import { useId } from "react";
import type { Strip } from "../api/client";
import * as say from "../frame/numbers";
import { colour } from "../theme/tokens";
import { Hatch } from "./Hatch";
import { HALO, Label, LEFT, placesOf, type RowProps, Tick } from "./TimeRows";

interface TimeCorridorProps extends Omit<RowProps, "timeline"> {
  name: string;
  unit: string;
  strip: Strip;
  /** Place of today in the list of days. */
  today: number;
  /** Base load on the same scale, dotted. */
  base?: (number | null)[];
  /** Another week load to lay beside, dashed. */
  beside?: (number | null)[];
}

export function TimeCorridor({ name, unit, strip, today, row, span, x, base, beside }: TimeCorridorProps) {
  const id = useId();
  const places = placesOf(span);
  const seen = places
    .flatMap((i) => [strip.week[i], strip.floor[i], beside?.[i]])
    .filter((value) => value != null);
  const highestSeen = Math.max(1, ...seen);
  const ceilings = places.map((i) => strip.ceiling[i]).filter((value) => value != null);
  const top = Math.max(highestSeen, Math.min(Math.max(0, ...ceilings), highestSeen * 1.4));
  const bars = row.height * 0.24;
  const bottom = row.top + row.height - bars;
  const y = scaleLinear([0, top * 1.05], [bottom, row.top]).clamp(true);
  const smooth = (values: (number | null)[], of: number[]) =>
    line<number>()
      .defined((i) => values[i] != null)
      .x((i) => x(i))
      .y((i) => y(values[i] ?? 0))
      .curve(curveMonotoneX)(of) ?? "";
  /** Between two lines, where both are known. */
  const between = (low: (i: number) => number | null, high: (i: number) => number | null, of: number[]) =>
    area<number>()
      .defined((i) => low(i) !== null && high(i) !== null)
      .x((i) => x(i))
      .y0((i) => y(low(i) ?? 0))
      .y1((i) => y(high(i) ?? 0))
      .curve(curveMonotoneX)(of) ?? "";
  const week = (i: number) => strip.week[i] ?? null;
  const ceiling = (i: number) => strip.ceiling[i] ?? null;
  const floor = (i: number) => strip.floor[i] ?? null;
  const past = places.filter((i) => i <= today - 1);
  const ahead = places.filter((i) => i >= today - 1);
  const first = base && past.find((i) => base[i] != null);
  const nowX = Math.max(LEFT, x(today - 0.5));
  const right = x(span.to + 0.5);
  return (
    <g>
      <Label text={name} more={unit} y={row.top + 14} />
      <defs>
        <clipPath id={`${id}past`}>
          <rect
            x={LEFT}
            y={row.top - 1}
            width={Math.max(0, Math.min(nowX, right) - LEFT)}
            height={row.height}
          />
        </clipPath>
        <clipPath id={`${id}ahead`}>
          <rect x={nowX} y={row.top - 1} width={Math.max(0, right - nowX)} height={row.height} />
        </clipPath>
        <clipPath id={`${id}over`}>
          <path d={between(ceiling, () => top * 2, places)} />
        </clipPath>
        <clipPath id={`${id}under`}>
          <path d={between(() => 0, floor, places)} />
        </clipPath>
        <Hatch id={`${id}hatch`} />
      </defs>
      <path
        d={between((i) => floor(i) ?? 0, ceiling, places)}
        fill={colour.oat}
        clipPath={`url(#${id}past)`}
      />
      <path
        d={between((i) => floor(i) ?? 0, ceiling, places)}
        fill={`url(#${id}hatch)`}
        clipPath={`url(#${id}ahead)`}
      />
      <path d={smooth(strip.ceiling, places)} fill="none" stroke={colour.ceiling} />
      <path d={smooth(strip.floor, places)} fill="none" stroke={colour.floor} />
      <g clipPath={`url(#${id}over)`}>
        <path d={between(ceiling, week, past)} fill={colour.madder} fillOpacity="0.66" />
        <path d={between(ceiling, week, ahead)} fill={colour.madder} fillOpacity="0.3" />
      </g>
      <g clipPath={`url(#${id}under)`}>
        <path d={between(week, floor, past)} fill={colour.indigo} fillOpacity="0.5" />
        <path d={between(week, floor, ahead)} fill={colour.indigo} fillOpacity="0.22" />
      </g>
      {base && (
        <path
          d={smooth(base, past)}
          fill="none"
          stroke={colour.ink}
          strokeWidth="1.3"
          strokeDasharray="0.1 3.4"
          strokeLinecap="round"
        >
          <title>base load</title>
        </path>
      )}
      {base && first !== undefined && (
        <text x={x(first) + 3} y={y(base[first] ?? 0) + 13} fontSize="11" fill={colour.ink} {...HALO}>
          base load
        </text>
      )}
      {beside && (
        <path
          d={smooth(beside, places)}
          fill="none"
          stroke={colour.indigo}
          strokeWidth="1.4"
          strokeDasharray="5 3"
        />
      )}
      <path d={smooth(strip.week, past)} fill="none" stroke={colour.kelp} strokeWidth="2.1" />
      <path
        d={smooth(strip.week, ahead)}
        fill="none"
        stroke={colour.kelp}
        strokeWidth="1.8"
        strokeDasharray="3.2 2.2"
      />
      <Days strip={strip} places={places} x={x} base={row.top + row.height} height={bars - 4} />
      {row.height > 70 &&
        y.ticks(3).map((tick) => (
          <Tick key={tick} y={y(tick)} right={right}>
            {say.load(tick)}
          </Tick>
        ))}
    </g>
  );
}

interface DaysProps {
  strip: Strip;
  places: number[];
  x: RowProps["x"];
  base: number;
  height: number;
}

/** Loads of the days: measured solid, estimated dotted, planned an outline, missing hollow. */
function Days({ strip, places, x, base, height }: DaysProps) {
  const highest = Math.max(1, ...places.map((i) => strip.load[i] ?? 0));
  const bar = scaleLinear([0, highest], [0, height]);
  const step = Math.max(1, (x(1) - x(0)) * 0.6);
  return places.map((i) => {
    const value = strip.load[i];
    const state = strip.state[i];
    const missing = state === "missing";
    if (!value && !missing) return null;
    const tall = missing ? 6 : bar(value ?? 0);
    const solid = state === "measured";
    return (
      <rect
        key={i}
        x={x(i) - step / 2}
        y={base - tall}
        width={step}
        height={tall}
        fill={solid ? colour.quiet : "none"}
        stroke={solid ? "none" : colour.quiet}
        strokeWidth="0.8"
        strokeDasharray={state === "estimated" ? "1.5 1.5" : undefined}
      />
    );
  });
}
