import { scaleLinear } from "d3-scale";
import type { Timeline } from "../api/client";
import { mediumDay, plusDays } from "../frame/days";
import { colour } from "../theme/tokens";
import "./charts.css";
import { Words } from "./Words";

interface RecoveryWindowsProps {
  windows: Timeline["windows"];
  asOf: string;
}

const WIDTH = 292;
const LEFT = 108;
const ROW = 24;
const HOUR = 3_600_000;
const NAMED = new Intl.DateTimeFormat("en-GB", { weekday: "short", timeZone: "UTC" });

/** Windows open after the last heavy day of each system: solid until the early end, dotted until the late one. */
export function RecoveryWindows({ windows, asOf }: RecoveryWindowsProps) {
  const now = Date.parse(`${asOf}T08:00:00Z`);
  const times = windows.flatMap((one) => [Date.parse(one.begins), Date.parse(one.late)]);
  const x = scaleLinear(
    [Math.min(now - 48 * HOUR, ...times), Math.max(now + 24 * HOUR, ...times)],
    [LEFT, WIDTH - 4],
  );
  const height = windows.length * ROW + 18;
  const days = [-3, -2, -1, 0, 1, 2, 3, 4]
    .map((away) => plusDays(asOf, away))
    .map((day) => ({ day, at: x(Date.parse(`${day}T12:00:00Z`)) }))
    .filter(({ at }) => at > LEFT + 8 && at < WIDTH - 8);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="recovery-windows"
      role="img"
      aria-label={said(windows)}
    >
      {windows.map((one, i) => {
        const y = i * ROW + ROW / 2;
        const [begins, early, late] = [one.begins, one.early, one.late].map((time) => x(Date.parse(time)));
        return (
          <g key={one.system}>
            <title>{one.because}</title>
            <Words x="0" y={y + 4} size="note" fill={colour.ink}>
              {one.system}
            </Words>
            <line x1={LEFT} x2={WIDTH - 4} y1={y} y2={y} stroke={colour.ruleSoft} />
            <rect
              x={begins}
              y={y - 5}
              width={(early ?? 0) - (begins ?? 0)}
              height="10"
              fill={colour.hatch}
              fillOpacity="0.75"
            />
            <rect
              x={early}
              y={y - 5}
              width={Math.max(0, (late ?? 0) - (early ?? 0))}
              height="10"
              fill="none"
              stroke={colour.ceiling}
              strokeDasharray="1.5 1.8"
            />
          </g>
        );
      })}
      <line x1={x(now)} x2={x(now)} y1="2" y2={height - 15} stroke={colour.ink} strokeWidth="1.3" />
      {days.map(({ day, at }) => (
        <Words
          key={day}
          x={at}
          y={height - 3}
          textAnchor="middle"
          strong={day === asOf}
          fill={day === asOf ? colour.ink : colour.quiet}
        >
          {NAMED.format(new Date(day))}
        </Words>
      ))}
    </svg>
  );
}

function said(windows: Timeline["windows"]): string {
  const until = (time: string) => mediumDay(time.slice(0, 10));
  return windows
    .map((one) => `${one.system}: open until ${until(one.early)} to ${until(one.late)}`)
    .join("; ");
}
