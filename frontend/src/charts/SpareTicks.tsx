import { colour } from "../theme/tokens";
import "./charts.css";

const WIDTH = 96;
const HEIGHT = 22;
const LINE = 24;

/** One tick for each person: what is spare to the right of the line, what is over to its left. */
export function SpareTicks({ spare, full, said }: { spare: number[]; full: number; said: string }) {
  const x = (load: number) =>
    LINE +
    (load >= 0
      ? (Math.min(load, full) / full) * (WIDTH - LINE - 2)
      : (Math.max(load, -full) / full) * (LINE - 2));
  return (
    <svg className="spare-ticks" viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={said}>
      <line x1={0} x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke={colour.rule} />
      <line x1={LINE} x2={LINE} y1={3} y2={HEIGHT - 3} stroke={colour.ink} strokeWidth={1.4} />
      {spare.map((load, i) => (
        <line
          // biome-ignore lint/suspicious/noArrayIndexKey: a tick has no name
          key={i}
          x1={x(load)}
          x2={x(load)}
          y1={load < 0 ? 3 : 5}
          y2={load < 0 ? HEIGHT - 3 : HEIGHT - 5}
          stroke={load < 0 ? colour.madder : colour.kelpMiddle}
          strokeWidth={2}
        />
      ))}
    </svg>
  );
}
