import { scaleBand, scaleLinear } from "d3-scale";
import { dayAndMonth } from "../frame/days";
import { colour } from "../theme/tokens";
import "./charts.css";
import { Words } from "./Words";

export interface BlockWeekShown {
  first: string;
  lighter: boolean;
  load: number;
  base: number | null;
  ceiling: number | null;
  floor: number | null;
  over: number;
}

interface Props {
  weeks: BlockWeekShown[];
  /** How many people it is a mean of. */
  people: number;
  /** What is said of a week, for who cannot see it. */
  name: (i: number) => string;
  onLoad?: (i: number, load: number) => void;
}

const WIDTH = 880;
const HEIGHT = 260;
const TOP = 18;
const FOOT = 18;
const STEP = 0.02;

/** Weeks as bars in their corridor, with base load through them. A bar is dragged, or moved with the arrows. */
export function BlockWeeks({ weeks, people, name, onLoad }: Props) {
  const most = Math.max(1, ...weeks.map((one) => Math.max(one.load, one.ceiling ?? 0))) * 1.08;
  const x = scaleBand(
    weeks.map((_, i) => String(i)),
    [0, WIDTH],
  ).padding(0.24);
  const y = scaleLinear([0, most], [HEIGHT - FOOT, TOP]);
  const at = (i: number) => x(String(i)) ?? 0;
  const bar = x.bandwidth();
  const base = weeks.flatMap((one, i) => (one.base === null ? [] : [`${at(i) + bar / 2},${y(one.base)}`]));
  const drag = (i: number) => (event: React.PointerEvent<SVGGElement>) => {
    if (!onLoad || event.buttons !== 1) return;
    const box = event.currentTarget.ownerSVGElement?.getBoundingClientRect();
    if (!box) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    onLoad(i, Math.max(0, y.invert(((event.clientY - box.top) / box.height) * HEIGHT)));
  };
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="block-weeks"
      role="group"
      aria-label="Weeks of the block"
    >
      <pattern
        id="block-plan"
        width="4"
        height="4"
        patternUnits="userSpaceOnUse"
        patternTransform="rotate(45)"
      >
        <rect width="4" height="4" fill={colour.raised} />
        <path d="M0 0V4" stroke={colour.kelpMiddle} strokeWidth="1.4" />
      </pattern>
      {weeks.map(
        (one, i) =>
          one.ceiling !== null && (
            <g key={`band ${one.first}`}>
              <rect
                x={at(i) - 6}
                width={bar + 12}
                y={y(one.ceiling)}
                height={Math.max(0, y(one.floor ?? 0) - y(one.ceiling))}
                fill={colour.oatAhead}
              />
              <line
                x1={at(i) - 6}
                x2={at(i) + bar + 6}
                y1={y(one.ceiling)}
                y2={y(one.ceiling)}
                stroke={colour.ceiling}
                strokeWidth={1.2}
              />
            </g>
          ),
      )}
      {weeks.map((one, i) => (
        <g
          key={one.first}
          role="slider"
          tabIndex={onLoad ? 0 : undefined}
          aria-label={name(i)}
          aria-valuenow={Math.round(one.load)}
          aria-valuemin={0}
          aria-orientation="vertical"
          className="block-bar"
          onPointerDown={drag(i)}
          onPointerMove={drag(i)}
          onKeyDown={(event) => {
            const step = { ArrowUp: 1, ArrowDown: -1, PageUp: 5, PageDown: -5 }[event.key];
            if (step === undefined || !onLoad) return;
            event.preventDefault();
            onLoad(i, one.load * (1 + step * STEP));
          }}
        >
          <rect x={at(i) - 6} width={bar + 12} y={0} height={HEIGHT - FOOT} fill="transparent" />
          <Bar one={one} x={at(i)} width={bar} top={y(one.load)} all={2 * one.over >= people} />
        </g>
      ))}
      <polyline
        points={base.join(" ")}
        fill="none"
        stroke={colour.ink}
        strokeDasharray="1 4"
        strokeLinecap="round"
        strokeWidth={2.2}
      />
    </svg>
  );
}

/** One week: hatched, or pale where it is lighter; who is over is told above it. */
function Bar({
  one,
  x,
  width,
  top,
  all,
}: {
  one: BlockWeekShown;
  x: number;
  width: number;
  top: number;
  all: boolean;
}) {
  return (
    <>
      <rect
        x={x}
        width={width}
        y={top}
        height={Math.max(0, HEIGHT - FOOT - top)}
        fill={one.lighter ? colour.paleKelp : "url(#block-plan)"}
        stroke={one.over > 0 && all ? colour.madder : colour.kelp}
        strokeWidth={one.over > 0 && all ? 2 : 1}
      />
      {one.over > 0 && (
        <Words x={x + width / 2} y={top - 4} textAnchor="middle" fill={colour.madder}>
          {one.over} over
        </Words>
      )}
      <Words x={x + width / 2} y={HEIGHT - 4} textAnchor="middle">
        {dayAndMonth(one.first)}
      </Words>
    </>
  );
}
