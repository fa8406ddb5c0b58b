import { colour } from "../theme/tokens";

interface Props {
  /** Seconds on and off. */
  on: number;
  off: number;
  /** How much time is shown. */
  seconds: number;
  planned?: boolean;
}

const WIDTH = 350;

/** Runs and rests in turn on a line of time; planned ones are dotted. */
export function PatternLine({ on, off, seconds, planned = false }: Props) {
  const starts = Array.from({ length: Math.ceil(seconds / (on + off)) }, (_, i) => i * (on + off));
  const x = (second: number) => (Math.min(second, seconds) / seconds) * WIDTH;
  return (
    <svg viewBox={`0 0 ${WIDTH} 14`} width="100%" height="14" aria-hidden="true">
      {starts.map((start) => (
        <rect
          key={start}
          x={x(start) + 0.5}
          y="1.5"
          width={Math.max(x(start + on) - x(start) - 1, 1)}
          height="11"
          fill={planned ? "none" : colour.kelpMiddle}
          stroke={planned ? colour.kelp : "none"}
          strokeDasharray={planned ? "2.5 2" : undefined}
        />
      ))}
      <path d={`M0 13.5H${WIDTH}`} stroke={colour.rule} />
    </svg>
  );
}
