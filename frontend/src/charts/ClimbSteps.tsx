import { plusDays } from "../frame/days";
import { colour } from "../theme/tokens";
import { Hatch } from "./Hatch";

interface Props {
  weeks: { first: string; share: number; again: boolean }[];
  x: (day: string) => number;
  y: (share: number) => number;
  today: string;
  /** Through which day a climb that is over is drawn on. */
  end: string;
}

/** A week under this part of its step is held for another one: the foot of the band. */
const KEPT = 0.7;

/** The steps of a climb as a band: its top is what a week may hold, its foot what it takes to go on. */
export function ClimbSteps({ weeks, x, y, today, end }: Props) {
  const last = weeks.at(-1);
  const steps = weeks.map((week) => ({ ...week, until: plusDays(week.first, 7) }));
  if (last && plusDays(last.first, 7) < end)
    steps.push({ first: plusDays(last.first, 7), share: 100, again: false, until: end });
  return steps
    .filter(({ share }) => share > 0)
    .map((step) => {
      const [left, right] = [x(step.first), x(step.until)];
      const now = Math.min(Math.max(x(today), left), right);
      const [top, foot] = [y(step.share), y(step.share * KEPT)];
      return (
        <g key={step.first}>
          <rect x={left} width={Math.max(0, now - left)} y={top} height={foot - top} fill={colour.oat} />
          <rect
            x={now}
            width={Math.max(0, right - now)}
            y={top}
            height={foot - top}
            fill="url(#climb-ahead)"
          />
          <path d={`M${left} ${top}H${right}`} stroke={colour.ceiling} strokeWidth="1.2" />
          <path d={`M${left} ${foot}H${right}`} stroke={colour.floor} strokeWidth="0.8" />
          {step.again && (
            <path
              d={`M${left} ${top - 3}H${right}`}
              stroke={colour.plum}
              strokeWidth="1.4"
              strokeDasharray="3 2"
            />
          )}
        </g>
      );
    });
}

/** Fills that the drawings of climbs share; once on a page. */
export function ClimbFills() {
  return (
    <svg width="0" height="0" aria-hidden="true" className="climb-fills">
      <Hatch id="climb-ahead" />
      <Hatch id="climb-missing" ground={colour.raised} line={colour.plum} step={3} />
      <Hatch id="climb-open" ground={colour.raised} line={colour.kelpLight} />
    </svg>
  );
}
