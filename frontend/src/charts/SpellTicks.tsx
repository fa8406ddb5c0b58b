import { colour } from "../theme/tokens";
import "./charts.css";

interface Props {
  count: number;
  /** The most of a spell; null without one. */
  most: number | null;
  /** Of a break what is left of it, 0 to 1; null while none runs. */
  left: number | null;
}

const WIDTH = 240;

/** A spell as ticks that can be counted, or what is left of a break. */
export function SpellTicks({ count, most, left }: Props) {
  if (left !== null)
    return (
      <svg
        viewBox={`0 0 ${WIDTH} 14`}
        className="spell-ticks"
        preserveAspectRatio="xMinYMid"
        aria-hidden="true"
      >
        <rect
          x="0.5"
          y="0.5"
          width={WIDTH - 4}
          height="13"
          fill="none"
          stroke={colour.plum}
          strokeDasharray="3 2"
        />
        <rect x="0.5" y="0.5" width={(WIDTH - 4) * left} height="13" fill={colour.plum} opacity="0.8" />
        <path d={`M${WIDTH - 2} 0V14`} stroke={colour.ink} strokeWidth="2" />
      </svg>
    );
  if (most === null) return null;
  const step = (WIDTH - 4) / most;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} 14`}
      className="spell-ticks"
      preserveAspectRatio="xMinYMid"
      aria-hidden="true"
    >
      {Array.from({ length: most }, (_, i) => i).map((i) => (
        <rect
          key={i}
          x={i * step + 0.5}
          y="0.5"
          width={Math.max(step - 1.6, 1)}
          height="13"
          fill={i < count ? colour.kelp : "none"}
          stroke={i < count ? colour.kelp : colour.quiet}
          strokeWidth="0.8"
        />
      ))}
      <path d={`M${WIDTH - 2} 0V14`} stroke={colour.ink} strokeWidth="2" />
    </svg>
  );
}
