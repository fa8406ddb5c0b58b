import { scaleLinear } from "d3-scale";
import { colour } from "../theme/tokens";
import type { Felt } from "./Profile";

const HEIGHT = 26;

/** An item's last four weeks: each report a dot, the strip is what is usual today (mean and 1 SD). */
export function ItemLine({ felt, width = 150 }: { felt: Felt; width?: number }) {
  const known = felt.days.filter((value): value is number => value !== null);
  const band =
    felt.usual !== null && felt.spread !== null ? [felt.usual - felt.spread, felt.usual + felt.spread] : [];
  const all = [...known, ...band];
  const low = Math.min(...all);
  const high = Math.max(...all);
  const y = scaleLinear([low, high === low ? low + 1 : high], [HEIGHT - 4, 4]);
  const x = scaleLinear([0, felt.days.length - 1], [3, width - 4]);
  const worse = felt.z !== null && felt.z <= -1;
  return (
    <svg width={width} height={HEIGHT} aria-hidden="true">
      {band[0] !== undefined && band[1] !== undefined && (
        <rect
          x="0"
          width={width}
          y={y(band[1])}
          height={Math.max(1, y(band[0]) - y(band[1]))}
          fill={colour.ruleSoft}
        />
      )}
      {felt.days.map((value, i) => {
        if (value === null) return null;
        const last = i === felt.days.length - 1;
        return (
          <circle
            // biome-ignore lint/suspicious/noArrayIndexKey: a day has no other name than its place
            key={i}
            cx={x(i)}
            cy={y(value)}
            r={last ? 3 : 1.4}
            fill={last && worse ? colour.ochre : last ? colour.ink : colour.quiet}
          />
        );
      })}
    </svg>
  );
}
