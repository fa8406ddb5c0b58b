import { memo } from "react";
import type { Lane } from "../api/client";
import { colour } from "../theme/tokens";
import { Words } from "./Words";

export type Felt = Lane["felt"][number];

const HEIGHT = 38;
const MIDDLE = HEIGHT / 2;
/** Pixels from one item to the next. */
export const STEP = 20;
const DASH = 8;
/** SD at the end of a ladder. */
const MOST = 3;

/** A change, and a clear change, in SD of the athlete's own days. */
export const CHANGE = 1;
export const CLEAR = 1.5;

/** Height of a value against the own usual: up is better. */
const y = (z: number) => MIDDLE - (Math.max(-MOST, Math.min(MOST, z)) / MOST) * (MIDDLE - 3);

/** A past answer in SD of what is usual today, up where it is better. */
function pastZ(item: Felt, value: number): number | null {
  if (item.usual === null || !item.spread) return null;
  return (item.sign * (value - item.usual)) / item.spread;
}

/**
 * This morning's report against the athlete's own usual, an item a ladder: up is better. Faint dashes are the last 28
 * mornings, the bold one is today's, with an ochre stem where it is worse by 1 SD; underlined when that lasts. What was
 * not answered is two hollow blocks with a gap.
 */
export const Profile = memo(function Profile({ felt }: { felt: Felt[] }) {
  const width = felt.length * STEP;
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={sentence(felt)}>
      <title>{sentence(felt)}</title>
      <line x1="0" x2={width} y1={MIDDLE} y2={MIDDLE} stroke={colour.rule} />
      {felt.map((item, i) => (
        <Ladder key={item.item} item={item} x={(i + 0.5) * STEP} />
      ))}
    </svg>
  );
});

function Ladder({ item, x }: { item: Felt; x: number }) {
  if (item.value === null)
    return (
      <path
        d={`M${x - 5} ${MIDDLE - 2.5}h4v5h-4zM${x + 1} ${MIDDLE - 2.5}h4v5h-4z`}
        fill={colour.paper}
        stroke={colour.quiet}
      />
    );
  const { z } = item;
  const worse = z !== null && z <= -CHANGE;
  const clear = z !== null && z <= -CLEAR;
  const dash = (at: number) => `M${x - DASH / 2} ${at.toFixed(1)}h${DASH}`;
  const past = item.days
    .slice(0, -1)
    .map((value) => (value === null ? null : pastZ(item, value)))
    .filter((one): one is number => one !== null);
  return (
    <g>
      <path
        d={past.map((one) => dash(y(one))).join("")}
        stroke={colour.ink}
        strokeOpacity="0.09"
        strokeWidth="2.4"
      />
      {z === null ? (
        <circle cx={x} cy={MIDDLE} r="2" fill={colour.quiet} />
      ) : (
        <>
          {worse && (
            <line x1={x} x2={x} y1={MIDDLE} y2={y(z)} stroke={colour.ochre} strokeWidth={clear ? 2.6 : 1.3} />
          )}
          <path
            d={`M${x - 6} ${y(z).toFixed(1)}h12`}
            stroke={worse ? colour.ochre : colour.ink}
            strokeWidth={clear || !worse ? 3.2 : 2.2}
          />
          {item.lasting < 0 && z < 0 && (
            <line
              x1={x - 6}
              x2={x + 6}
              y1={HEIGHT - 0.8}
              y2={HEIGHT - 0.8}
              stroke={colour.ochre}
              strokeWidth="1.6"
            />
          )}
        </>
      )}
    </g>
  );
}

const SHORT: Record<string, string> = {
  sleep_hours: "hours",
  resting_heart_rate: "pulse",
  heart_rate_variability: "HRV",
  body_mass: "mass",
};

/** The names of the items above their ladders, by turns on two lines. */
export function ProfileHead({ felt }: { felt: Felt[] }) {
  return (
    <svg
      width={felt.length * STEP}
      height="42"
      role="img"
      aria-label="Report: up is better than usual"
      overflow="visible"
    >
      <Words x="0" y="11">
        up: better than usual
      </Words>
      {felt.map((item, i) => (
        <Words key={item.item} x={(i + 0.5) * STEP} y={i % 2 ? 37 : 25} textAnchor="middle" fill={colour.ink}>
          {SHORT[item.item] ?? item.name}
        </Words>
      ))}
    </svg>
  );
}

/** The profile in a sentence. */
export function sentence(felt: Felt[]): string {
  const answered = felt.filter((item) => item.value !== null);
  if (answered.length === 0) return "No report this morning.";
  const worse = answered.filter((item) => item.z !== null && item.z <= -CHANGE);
  if (worse.length === 0) return "Report as usual.";
  const said = worse.map(
    (item) => `${item.name} ${item.value} (usual ${item.usual})${item.lasting < 0 ? ", lasting" : ""}`,
  );
  return `Worse than usual: ${said.join("; ")}.`;
}
