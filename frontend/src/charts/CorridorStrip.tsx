/** An athlete's corridor in one line: the band of week loads, the own load through it, the day's loads below. */

import { scaleLinear } from "d3-scale";
import { area, curveMonotoneX, line } from "d3-shape";
import { memo, useId } from "react";
import type { Room, Strip } from "../api/client";
import { colour } from "../theme/tokens";
import { Hatch } from "./Hatch";
import { NotchPath } from "./Notch";

const HEIGHT = 41;
const BAND = { top: 2, bottom: 30 };
const BARS = { base: 40, height: 8.5 };
const NOTCH = 8.5;

interface CorridorStripProps {
  strip: Strip;
  room: Room;
  /** Index of today among the days. */
  today: number;
  width: number;
  /** The whole picture in a sentence. */
  label: string;
}

interface Range {
  low: number;
  high: number;
}

/** The span of week loads to show: it fits the athlete, and no single high ceiling flattens everything. */
export function strippedRange(strip: Strip, room: Room, today: number): Range {
  const known = (values: (number | null)[]) => values.filter((value): value is number => value !== null);
  const weeks = known(strip.week);
  const ceilings = known(strip.ceiling);
  const slotTop = room.load === null ? 0 : startOfToday(strip, room, today) + room.load;
  const highestWeek = Math.max(1, ...weeks);
  const middle = [...ceilings].sort((a, b) => a - b)[Math.floor(ceilings.length / 2)] ?? highestWeek;
  const high = Math.max(highestWeek * 1.04, middle * 1.08, Math.min(slotTop, highestWeek * 1.5));
  const low = Math.min(...known(strip.floor), ...weeks, high) * 0.97;
  return { low: Math.max(low, high * 0.3), high };
}

function startOfToday(strip: Strip, room: Room, today: number): number {
  return (strip.week[today] ?? 0) - room.plan;
}

function CorridorStripPlain({ strip, room, today, width, label }: CorridorStripProps) {
  const id = useId();
  const count = strip.week.length;
  const step = width / count;
  const { low, high } = strippedRange(strip, room, today);
  const y = scaleLinear([low, high], [BAND.bottom, BAND.top]).clamp(true);
  const middle = (i: number) => (i + 0.5) * step;
  const nowX = today * step;

  const index = strip.week.map((_, i) => i);
  const both = (i: number) => strip.floor[i] != null && strip.ceiling[i] != null;
  const band = area<number>()
    .defined((i) => both(i) || strip.ceiling[i] != null)
    .x(middle)
    .y0((i) => y(strip.floor[i] ?? low))
    .y1((i) => y(strip.ceiling[i] ?? high))
    .curve(curveMonotoneX);
  const edge = (values: (number | null)[]) =>
    line<number>()
      .defined((i) => values[i] != null)
      .x(middle)
      .y((i) => y(values[i] ?? 0))
      .curve(curveMonotoneX)(index) ?? "";
  const own = line<number>()
    .defined((i) => strip.week[i] != null)
    .x(middle)
    .y((i) => y(strip.week[i] ?? 0))
    .curve(curveMonotoneX);
  const past = index.slice(0, today);
  const ahead = index.slice(Math.max(today - 1, 0));
  const beyond = (edgeValues: (number | null)[], to: "top" | "bottom") =>
    area<number>()
      .defined((i) => edgeValues[i] != null)
      .x(middle)
      .y0(() => (to === "top" ? 0 : HEIGHT))
      .y1((i) => y(edgeValues[i] ?? 0))
      .curve(curveMonotoneX)(index) ?? "";
  const toEdge = (edgeValues: (number | null)[], whole: number[]) =>
    area<number>()
      .defined((i) => strip.week[i] != null && edgeValues[i] != null)
      .x(middle)
      .y0((i) => y(edgeValues[i] ?? 0))
      .y1((i) => y(strip.week[i] ?? 0))
      .curve(curveMonotoneX)(whole) ?? "";

  const highestDay = Math.max(1, ...strip.load.map((value) => value ?? 0));
  const begin = startOfToday(strip, room, today);
  const slotTop = room.load === null ? null : y(begin + room.load);
  const last = strip.week[today - 1];

  return (
    <svg width={width} height={HEIGHT} viewBox={`0 0 ${width} ${HEIGHT}`} role="img" aria-label={label}>
      <defs>
        <clipPath id={`${id}over`}>
          <path d={beyond(strip.ceiling, "top")} />
        </clipPath>
        <clipPath id={`${id}under`}>
          <path d={beyond(strip.floor, "bottom")} />
        </clipPath>
        <clipPath id={`${id}past`}>
          <rect x="0" y="0" width={nowX} height={HEIGHT} />
        </clipPath>
        <clipPath id={`${id}ahead`}>
          <rect x={nowX} y="0" width={width - nowX} height={HEIGHT} />
        </clipPath>
        <Hatch id={`${id}hatch`} />
      </defs>
      <path d={band(index) ?? ""} fill={colour.oat} clipPath={`url(#${id}past)`} />
      <path d={band(index) ?? ""} fill={`url(#${id}hatch)`} clipPath={`url(#${id}ahead)`} />
      <path d={edge(strip.ceiling)} fill="none" stroke={colour.ceiling} strokeWidth="1.2" />
      <path d={edge(strip.floor)} fill="none" stroke={colour.floor} strokeWidth="1" />
      <g clipPath={`url(#${id}over)`}>
        <path d={toEdge(strip.ceiling, past)} fill={colour.madder} fillOpacity="0.9" />
        <path d={toEdge(strip.ceiling, ahead)} fill={colour.madder} fillOpacity="0.38" />
      </g>
      <g clipPath={`url(#${id}under)`}>
        <path d={toEdge(strip.floor, past)} fill={colour.indigo} fillOpacity="0.62" />
        <path d={toEdge(strip.floor, ahead)} fill={colour.indigo} fillOpacity="0.3" />
      </g>
      <path d={own(past) ?? ""} fill="none" stroke={colour.kelp} strokeWidth="1.8" />
      <path
        d={own(ahead) ?? ""}
        fill="none"
        stroke={colour.kelp}
        strokeWidth="1.8"
        strokeDasharray="3.2 2.2"
      />
      {strip.load.map((value, i) => (
        <DayBar
          // biome-ignore lint/suspicious/noArrayIndexKey: a day is its place on the axis
          key={i}
          x={i * step + step * 0.22}
          width={step * 0.56}
          height={((value ?? 0) / highestDay) * BARS.height}
          state={strip.state[i] ?? "rest"}
        />
      ))}
      {slotTop !== null && (
        <rect
          x={nowX + 1.4}
          y={slotTop}
          width={Math.max(step * 0.62, 5)}
          height={Math.max(y(begin) - slotTop, 1.4)}
          fill={colour.raised}
          stroke={colour.ink}
          strokeWidth="1.1"
        />
      )}
      {room.closed && (
        <path
          d={`M${nowX + 4} ${BAND.top + 1}V${BAND.bottom - 1}M${nowX + 8} ${BAND.top + 1}V${BAND.bottom - 1}`}
          stroke={colour.plum}
          strokeWidth="2"
        />
      )}
      <path d={`M${nowX} 0V${HEIGHT}`} stroke={colour.ink} strokeWidth="1.2" />
      {last != null && <circle cx={middle(today - 1)} cy={y(last)} r="2.6" fill={colour.kelp} />}
      {strip.side.map((side, i) => {
        // A notch stands where the load leaves the corridor, not on every day it stays outside.
        if (i === 0 || side === "" || strip.side[i - 1] === side) return null;
        const week = strip.week[i] ?? low;
        const top =
          side === "over" ? Math.max(y(week) - NOTCH - 2, 0) : Math.min(y(week) + 2, BAND.bottom - NOTCH);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a day is its place on the axis
          <g key={i} transform={`translate(${middle(i) - NOTCH / 2} ${top}) scale(${NOTCH / 12})`}>
            <NotchPath shape={side} severity={i < today ? "act" : "note"} />
          </g>
        );
      })}
    </svg>
  );
}

/** One day's load: measured solid, estimated dotted, planned dashed, missing hollow with a gap. */
function DayBar({ x, width, height, state }: { x: number; width: number; height: number; state: string }) {
  const top = BARS.base - Math.max(height, 1);
  if (state === "missing")
    return (
      <path
        d={`M${x} ${BARS.base}v-3.4h${width}v3.4M${x} ${BARS.base - 5.2}v-3h${width}v3`}
        fill="none"
        stroke={colour.ceiling}
        strokeWidth="1"
      />
    );
  if (state === "rest" || state === "before" || height <= 0) return null;
  if (state === "measured")
    return (
      <rect x={x} y={top} width={width} height={BARS.base - top} fill={colour.quiet} fillOpacity="0.75" />
    );
  return (
    <rect
      x={x + 0.5}
      y={top}
      width={width - 1}
      height={BARS.base - top}
      fill={colour.paper}
      stroke={colour.quiet}
      strokeWidth="1"
      strokeDasharray={state === "estimated" ? "1 1.4" : undefined}
    />
  );
}

export const CorridorStrip = memo(CorridorStripPlain);
