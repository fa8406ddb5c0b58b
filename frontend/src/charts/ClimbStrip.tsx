import { plusDays } from "../frame/days";
import { colour } from "../theme/tokens";
import { ClimbSteps } from "./ClimbSteps";
import { climbPath, climbScale } from "./climbScale";

export interface ClimbShown {
  first_off: string | null;
  first_day: string;
  from_day: string;
  weeks: { first: string; share: number; again: boolean }[];
  measured: (number | null)[];
  target: string | null;
  reached: number | null;
}

interface Props {
  climb: ClimbShown;
  from: string;
  to: string;
  today: string;
  /** The whole picture in a sentence. */
  label: string;
  width?: number;
  height?: number;
}

const TOP = 4;

/** A climb in one line: the break, the steps, what was done so far, and what is missing on the day it is for. */
export function ClimbStrip({ climb, from, to, today, label, width = 264, height = 38 }: Props) {
  const x = climbScale(from, from, to, 0, width);
  const y = (share: number) => height - (Math.min(share, 112) / 112) * (height - TOP);
  const { target, reached } = climb;
  const done = climb.measured
    .slice(0, Math.max(0, climb.measured.length - 1))
    .map((value, i) => (plusDays(climb.from_day, i + 1) < from ? null : value));
  const last = done.at(-1);
  const now = from <= today && today <= to;
  return (
    <svg viewBox={`0 0 ${width} ${height}`} className="climb-strip" role="img" aria-label={label}>
      {climb.first_off && <Break x={x} first={climb.first_off} back={climb.first_day} height={height} />}
      <path d={`M0 ${y(100)}H${width}`} stroke={colour.quiet} strokeDasharray="2 3" />
      <ClimbSteps weeks={climb.weeks} x={x} y={y} today={today} end={to} />
      <path d={climbPath(done, climb.from_day, x, y)} fill="none" stroke={colour.kelp} strokeWidth="1.8" />
      {now && <path d={`M${x(today)} 0V${height}`} stroke={colour.ink} strokeWidth="1.2" />}
      {now && last != null && <circle cx={x(today)} cy={y(last)} r="2.6" fill={colour.kelp} />}
      {target && <Missing x={x(target)} top={y(100)} from={y(reached ?? 100)} bottom={height} />}
    </svg>
  );
}

/** Days without work: shaded, with a line above. */
function Break({
  x,
  first,
  back,
  height,
}: {
  x: (day: string) => number;
  first: string;
  back: string;
  height: number;
}) {
  const [left, right] = [x(first), x(back)];
  if (right <= left) return null;
  return (
    <>
      <rect x={left} width={right - left} y="1" height={height - 1} fill={colour.plum} opacity="0.07" />
      <path d={`M${left} 1H${right}`} stroke={colour.plum} strokeWidth="2.2" />
    </>
  );
}

/** What is missing on the day it is for, from the step up to the whole; a diamond stands for the day. */
export function Missing({ x, top, from, bottom }: { x: number; top: number; from: number; bottom: number }) {
  return (
    <g>
      {from > top + 0.5 && (
        <rect
          x={x - 3}
          y={top}
          width="6"
          height={from - top}
          fill="url(#climb-missing)"
          stroke={colour.plum}
        />
      )}
      <path d={`M${x} ${from}V${bottom - 8}`} stroke={colour.ink} strokeWidth="0.8" />
      <path
        d={`M${x} ${bottom - 8}l4 4l-4 4l-4 -4Z`}
        fill={colour.raised}
        stroke={colour.ink}
        strokeWidth="1.1"
      />
    </g>
  );
}
