import { colour } from "../theme/tokens";

interface LimitBarProps {
  figure: number;
  value: number;
  /** A floor is fallen short of, a ceiling gone beyond. */
  floor?: boolean;
}

const WIDTH = 96;
const HEIGHT = 22;

/** A figure as a bar against its limit: what is beyond it in madder, what a floor lacks in indigo. */
export function LimitBar({ figure, value, floor = false }: LimitBarProps) {
  const most = Math.max(figure, value, 1e-9) * 1.08;
  const x = (one: number) => (Math.max(0, one) / most) * WIDTH;
  const [from, to] = floor ? [figure, value] : [value, figure];
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
      <line x1="0" x2={WIDTH} y1={HEIGHT / 2} y2={HEIGHT / 2} stroke={colour.rule} />
      <rect x="0" y="7" width={Math.min(x(figure), x(value))} height="8" fill={colour.kelp} />
      {x(to) > x(from) && (
        <rect
          x={x(from)}
          y="7"
          width={x(to) - x(from)}
          height="8"
          fill={floor ? "none" : colour.madder}
          stroke={floor ? colour.indigo : "none"}
        />
      )}
      <line x1={x(value)} x2={x(value)} y1="2" y2={HEIGHT - 2} stroke={colour.ink} strokeWidth="1.4" />
    </svg>
  );
}
