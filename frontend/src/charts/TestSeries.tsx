import { scaleLinear } from "d3-scale";
import { mediumDay } from "../frame/days";
import * as say from "../frame/numbers";
import { colour } from "../theme/tokens";
import "./charts.css";
import { Words } from "./Words";

interface Point {
  day: string;
  value: number;
  trials: (number | null)[];
}

interface TestSeriesProps {
  label: string;
  unit: string;
  /** Half the height of the band around each result; null where it is not known. */
  error: number | null;
  lines: { side: "" | "left" | "right"; points: Point[] }[];
}

const WIDTH = 340;
const HEIGHT = 190;
const EDGE = { top: 12, right: 46, bottom: 24, left: 40 };

/** Results of a test through time, each with its typical error; left is a filled square, right an open circle. */
export function TestSeries({ label, unit, error, lines }: TestSeriesProps) {
  const all = lines.flatMap((line) => line.points);
  const times = all.map((point) => Date.parse(point.day));
  const values = all.flatMap((point) => [point.value - (error ?? 0), point.value + (error ?? 0)]);
  const pad = (Math.max(...values) - Math.min(...values)) * 0.12 || Math.abs(values[0] ?? 1) * 0.05;
  const span = Math.max(...times) - Math.min(...times);
  const x = scaleLinear()
    .domain(span ? [Math.min(...times), Math.max(...times)] : [(times[0] ?? 0) - 1, (times[0] ?? 0) + 1])
    .range([EDGE.left + 6, WIDTH - EDGE.right]);
  const y = scaleLinear()
    .domain([Math.min(...values) - pad, Math.max(...values) + pad])
    .range([HEIGHT - EDGE.bottom, EDGE.top]);
  const days = [...new Set(all.map((point) => point.day))].sort();
  const last = days.at(-1);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`${label}, ${all.length} results`}
      className="test-series"
    >
      {y.ticks(4).map((tick) => (
        <g key={tick}>
          <line x1={EDGE.left} x2={WIDTH - 8} y1={y(tick)} y2={y(tick)} stroke={colour.ruleSoft} />
          <Words x={EDGE.left - 5} y={y(tick) + 3.5} textAnchor="end">
            {say.fine(tick)}
          </Words>
        </g>
      ))}
      {days[0] && <DayMark day={days[0]} at={x(Date.parse(days[0]))} anchor="start" />}
      {last && last !== days[0] && <DayMark day={last} at={x(Date.parse(last))} anchor="end" />}
      {lines.map(({ side, points }) => {
        const at = points.map((point) => [x(Date.parse(point.day)), y(point.value)] as const);
        const end = at.at(-1);
        return (
          <g key={side}>
            <polyline
              points={at.map(([px, py]) => `${px},${py}`).join(" ")}
              fill="none"
              stroke={colour.kelp}
              strokeWidth="1.5"
              strokeDasharray={side === "right" ? "4 3" : undefined}
            />
            {points.map((point, i) => {
              const [px, py] = at[i] ?? [0, 0];
              return (
                <g key={point.day}>
                  <title>{`${mediumDay(point.day)}: ${side} ${say.fine(point.value)} ${unit}`}</title>
                  {error !== null && (
                    <line
                      x1={px}
                      x2={px}
                      y1={y(point.value - error)}
                      y2={y(point.value + error)}
                      stroke={colour.hatch}
                      strokeWidth="6"
                    />
                  )}
                  {side === "right" ? (
                    <circle
                      cx={px}
                      cy={py}
                      r="3.5"
                      fill={colour.raised}
                      stroke={colour.kelp}
                      strokeWidth="1.5"
                    />
                  ) : (
                    <rect x={px - 3.2} y={py - 3.2} width="6.4" height="6.4" fill={colour.kelp} />
                  )}
                </g>
              );
            })}
            {end && side && (
              <Words x={end[0] + 8} y={end[1] + 4} fill={colour.ink}>
                {side}
              </Words>
            )}
          </g>
        );
      })}
    </svg>
  );
}

function DayMark({ day, at, anchor }: { day: string; at: number; anchor: "start" | "end" }) {
  return (
    <Words x={at} y={HEIGHT - 6} textAnchor={anchor}>
      {mediumDay(day)}
    </Words>
  );
}
