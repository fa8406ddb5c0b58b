import { memo } from "react";
import type { Lane } from "../api/client";
import { colour } from "../theme/tokens";

export type Felt = Lane["felt"][number];

const HEIGHT = 30;
const MIDDLE = HEIGHT / 2;
const STEP = 11;
/** SD at the end of a stem. */
const MOST = 3;

/** A change, and a clear change, in SD of the athlete's own days. */
export const CHANGE = 1;
export const CLEAR = 1.5;

/**
 * This morning's report against the athlete's own usual, an item a stem: up is better. The grey strip is within 1 SD.
 * Worse than that is ochre; filled when clear, underlined when it lasts. What was not answered is a gap.
 */
export const Profile = memo(function Profile({ felt }: { felt: Felt[] }) {
  const width = felt.length * STEP;
  const y = (z: number) => MIDDLE - (Math.max(-MOST, Math.min(MOST, z)) / MOST) * (MIDDLE - 3);
  return (
    <svg width={width} height={HEIGHT} role="img" aria-label={sentence(felt)}>
      <title>{sentence(felt)}</title>
      <rect x="0" y={y(1)} width={width} height={y(-1) - y(1)} fill={colour.ruleSoft} opacity="0.7" />
      <line x1="0" x2={width} y1={MIDDLE} y2={MIDDLE} stroke={colour.rule} />
      {felt.map((item, i) => {
        const x = (i + 0.5) * STEP;
        if (item.z === null || item.value === null)
          return (
            <line
              key={item.item}
              x1={x}
              x2={x}
              y1={MIDDLE - 3}
              y2={MIDDLE + 3}
              stroke={colour.paper}
              strokeWidth="3"
            />
          );
        const worse = item.z <= -CHANGE;
        const ink = worse ? colour.ochre : colour.quiet;
        return (
          <g key={item.item}>
            <line x1={x} x2={x} y1={MIDDLE} y2={y(item.z)} stroke={ink} strokeWidth={worse ? 2 : 1.2} />
            <circle
              cx={x}
              cy={y(item.z)}
              r={worse ? 2.7 : 1.7}
              fill={item.z <= -CLEAR ? ink : worse ? colour.raised : ink}
              stroke={ink}
              strokeWidth="1.2"
            />
            {item.lasting < 0 && item.z < 0 && (
              <line x1={x - 4} x2={x + 4} y1={HEIGHT - 1} y2={HEIGHT - 1} stroke={ink} strokeWidth="2" />
            )}
          </g>
        );
      })}
    </svg>
  );
});

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
