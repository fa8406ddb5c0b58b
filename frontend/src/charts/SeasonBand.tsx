import { scaleUtc } from "d3-scale";
import type { SeasonPhase } from "../api/client";
import { plusDays } from "../frame/days";
import { colour } from "../theme/tokens";
import { Words } from "./Words";
import "./charts.css";

const WIDTH = 940;
const TOP = 20;
const HEIGHT = 30;
// A letter's width at most: a name that does not fit its phase is told below the band only.
const LETTER = 7;
const FILLS = { preparation: colour.oat, competition: colour.paleKelp, transition: colour.paper } as const;
const at = (day: string) => Date.parse(`${day}T00:00:00Z`);
const month = new Intl.DateTimeFormat("en-GB", { month: "short", timeZone: "UTC" });

/** Phases along the months, with a line for the day. */
export function SeasonBand({ phases, day }: { phases: SeasonPhase[]; day: string }) {
  const ends = [...phases.flatMap((phase) => [phase.first, plusDays(phase.last, 1)]), day].sort();
  const x = scaleUtc([at(ends[0] ?? day), at(ends.at(-1) ?? day)], [0, WIDTH]);
  const months = x.ticks(14);
  return (
    <svg
      className="season-band"
      viewBox={`0 0 ${WIDTH} ${TOP + HEIGHT + 6}`}
      role="img"
      aria-label={phases.map((phase) => `${phase.name} from ${phase.first} to ${phase.last}`).join("; ")}
    >
      {months.map((tick) => (
        <g key={tick.getTime()} transform={`translate(${x(tick)}, 0)`}>
          <line y1={TOP - 4} y2={TOP} stroke={colour.rule} />
          <Words y={11} textAnchor="middle">
            {tick.getUTCMonth() === 0 ? tick.getUTCFullYear() : month.format(tick)}
          </Words>
        </g>
      ))}
      {phases.map((phase) => {
        const left = x(at(phase.first));
        const width = Math.max(2, x(at(plusDays(phase.last, 1))) - left - 1);
        return (
          <g key={phase.first}>
            <rect
              x={left}
              y={TOP}
              width={width}
              height={HEIGHT}
              fill={FILLS[phase.kind]}
              stroke={colour.rule}
            />
            {width > LETTER * phase.name.length + 8 && (
              <Words x={left + 6} y={TOP + 19} size="small" fill={colour.ink}>
                {phase.name}
              </Words>
            )}
          </g>
        );
      })}
      <line
        x1={x(at(day))}
        x2={x(at(day))}
        y1={TOP - 4}
        y2={TOP + HEIGHT + 6}
        stroke={colour.ink}
        strokeWidth={2}
      />
    </svg>
  );
}
