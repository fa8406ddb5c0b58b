import { colour } from "../theme/tokens";
import "./charts.css";

interface Props {
  /** In per cent of a match; null where it is not known. */
  percent: number | null;
  /** The hardest minute, in per cent of a match's hardest. */
  peak?: number | null;
  /** Where the bar begins, for parts that follow each other. */
  from?: number;
  /** Something of it is an estimate. */
  estimated?: boolean;
}

interface TicksProps {
  /** One for each person. */
  percents: number[];
}

const WIDTH = 74;
const HEIGHT = 20;
const MOST = 160;
const x = (percent: number) => (Math.min(Math.max(percent, 0), MOST) / MOST) * (WIDTH - 4) + 1;

/** The line that a match is. */
function MatchLine() {
  return <path d={`M${x(100)} 0V${HEIGHT}`} stroke={colour.ink} strokeWidth="1.2" />;
}

/** A figure on the line of a match: the total as a bar, its hardest minute as a tick. */
export function PercentBar({ percent, peak = null, from = 0, estimated = false }: Props) {
  const end = percent === null ? null : from + percent;
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="percent-bar">
      {end !== null && (
        <rect
          x={x(from)}
          y={estimated ? 6.5 : 6}
          width={Math.max(x(end) - x(from), 1)}
          height={estimated ? 7 : 8}
          fill={estimated ? "none" : colour.kelp}
          stroke={estimated ? colour.kelp : "none"}
          strokeDasharray={estimated ? "2 2" : undefined}
        />
      )}
      {end !== null && end > MOST && (
        <path
          d={`M${WIDTH - 6} 5l4 5l-4 5`}
          fill="none"
          stroke={colour.paper}
          strokeWidth="2"
          strokeLinejoin="round"
        />
      )}
      <MatchLine />
      {peak !== null && (
        <rect
          x={x(peak) - 1.4}
          y="3"
          width="2.8"
          height="14"
          fill={colour.ink}
          stroke={colour.paper}
          strokeWidth="0.8"
        />
      )}
    </svg>
  );
}

/** Everyone of a position as ticks on the line of a match. */
export function PercentTicks({ percents }: TicksProps) {
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="percent-bar">
      <path d={`M0 ${HEIGHT / 2}H${WIDTH}`} stroke={colour.hatch} strokeWidth="0.8" />
      {percents.map((percent, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a tick is its place
        <rect key={i} x={x(percent) - 1} y="4" width="2" height="12" fill={colour.kelpMiddle} />
      ))}
      <MatchLine />
    </svg>
  );
}
