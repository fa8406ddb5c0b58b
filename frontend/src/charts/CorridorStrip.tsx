/** An athlete's corridor in one line: the band of week loads, the own load through it, the day's loads below. */

import { scaleLinear } from "d3-scale";
import { memo, useId } from "react";
import type { Room, Strip } from "../api/client";
import { colour } from "../theme/tokens";
import { CorridorBand, type Weight } from "./CorridorBand";
import { NotchPath } from "./Notch";

const HEIGHT = 41;
const BAND = { top: 2, bottom: 30 };
const BARS = { base: 40, height: 8.5 };
const NOTCH = 8.5;
const WEIGHT: Weight = { edges: [1.2, 1], own: [1.8, 1.8], over: [0.9, 0.38], under: [0.62, 0.3] };

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

  const highestDay = Math.max(1, ...strip.load.map((value) => value ?? 0));
  const begin = startOfToday(strip, room, today);
  const slotTop = room.load === null ? null : y(begin + room.load);
  const last = strip.week[today - 1];

  return (
    <svg width={width} height={HEIGHT} viewBox={`0 0 ${width} ${HEIGHT}`} role="img" aria-label={label}>
      <CorridorBand
        id={id}
        strip={strip}
        places={strip.week.map((_, i) => i)}
        yesterday={today - 1}
        x={middle}
        y={y}
        frame={{ left: 0, right: width, top: 0, bottom: BAND.bottom, now: nowX }}
        weight={WEIGHT}
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
