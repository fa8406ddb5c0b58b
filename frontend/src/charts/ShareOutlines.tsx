import { colour } from "../theme/tokens";
import { Hatch } from "./Hatch";
import { Words } from "./Words";
import "./charts.css";

interface Props {
  /** Share of each bin, 0 to 1. */
  training: number[];
  match: number[];
  /** What stands below the left edge of each bin; empty for none. */
  marks: string[];
  width: number;
  height: number;
  /** Says in words what the picture shows. */
  label: string;
}

const FOOT = 18;

/** Two outlines of shares: what both have is filled, what training has more of hatched, what the match has dashed. */
export function ShareOutlines({ training, match, marks, width, height, label }: Props) {
  const most = Math.max(...training, ...match, 0.01);
  const base = height - FOOT;
  const step = width / training.length;
  const y = (share: number) => base - (share / most) * (base - 6);
  const outline = (shares: number[]) =>
    `M0 ${base}${shares.map((share, i) => `L${i * step} ${y(share)}H${(i + 1) * step}`).join("")}V${base}`;
  const shared = training.map((share, i) => Math.min(share, match[i] ?? 0));
  const id = `more-${label.length}-${width}`;
  return (
    <svg width={width} height={height} role="img" aria-label={label} className="share-outlines">
      <defs>
        <Hatch id={id} ground={colour.paper} line={colour.kelpMiddle} />
      </defs>
      <path d={outline(training)} fill={`url(#${id})`} />
      <path d={outline(shared)} fill={colour.oat} />
      <path d={outline(training)} fill="none" stroke={colour.kelp} strokeWidth="1.8" />
      <path d={outline(match)} fill="none" stroke={colour.ink} strokeWidth="1.4" strokeDasharray="3 2.4" />
      <path d={`M0 ${base}H${width}`} stroke={colour.rule} />
      {marks.map(
        (mark, i) =>
          mark && (
            <Words key={mark} x={i * step} y={height - 4} textAnchor={i === 0 ? "start" : "middle"}>
              {mark}
            </Words>
          ),
      )}
    </svg>
  );
}
