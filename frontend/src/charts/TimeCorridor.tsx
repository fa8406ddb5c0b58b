/** One kind of work on the time axis: its corridor, the week load through it, and the days below. */

import { scaleLinear } from "d3-scale";
import { useId } from "react";
import type { Strip } from "../api/client";
import * as say from "../frame/numbers";
import { colour } from "../theme/tokens";
import { CorridorBand, through, type Weight } from "./CorridorBand";
import { HALO, Label, LEFT, placesOf, type RowProps, Tick } from "./TimeRows";
import { Words } from "./Words";

const WEIGHT: Weight = { edges: [1, 1], own: [2.1, 1.8], over: [0.66, 0.3], under: [0.5, 0.22] };

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
  const past = places.filter((i) => i <= today - 1);
  const first = base && past.find((i) => base[i] != null);
  const nowX = Math.max(LEFT, x(today - 0.5));
  const right = x(span.to + 0.5);
  return (
    <g>
      <Label text={name} more={unit} y={row.top + 14} />
      <CorridorBand
        id={id}
        strip={strip}
        places={places}
        yesterday={today - 1}
        x={x}
        y={y}
        frame={{ left: LEFT, right, top: row.top - 1, bottom, now: nowX }}
        weight={WEIGHT}
      />
      {base && (
        <path
          d={through(base, past, x, y)}
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
        <Words x={x(first) + 3} y={y(base[first] ?? 0) + 13} fill={colour.ink} {...HALO}>
          base load
        </Words>
      )}
      {beside && (
        <path
          d={through(beside, places, x, y)}
          fill="none"
          stroke={colour.indigo}
          strokeWidth="1.4"
          strokeDasharray="5 3"
        />
      )}
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
