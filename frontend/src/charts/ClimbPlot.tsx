import type { ReturnWhole } from "../api/client";
import { dayAndMonth, mediumDay, plusDays } from "../frame/days";
import { load } from "../frame/numbers";
import { colour } from "../theme/tokens";
import { Clocks, Effort, OpenPlay, StageBand } from "./ClimbRows";
import { ClimbSteps } from "./ClimbSteps";
import { Missing } from "./ClimbStrip";
import { type ClimbScale, climbDates, climbPath, climbScale } from "./climbScale";
import { Words } from "./Words";

const WIDTH = 680;
const LEFT = 104;
const RIGHT = 14;
const MAIN = 124;
const LANE = 38;
const GAP = 10;

/** Channels that climb on their own, the main one first; the others go with it. */
export const ownLanes = (whole: ReturnWhole) => whole.lanes.filter((lane, i) => i === 0 || lane.held_until);

/** The place of each row, top to bottom; what is not there takes no room. */
export function climbRows(whole: ReturnWhole, shown: ReturnWhole["lanes"]) {
  let top = 22;
  const add = (height: number, there = true) => {
    const at = top;
    if (there) top += height + GAP;
    return at;
  };
  const stage = add(16, whole.stage !== null);
  const lanes = shown.map((_, i) => (i === 0 ? { top: add(MAIN), days: add(20) } : { top: add(LANE) }));
  const open = add(30, whole.open_play.length > 0);
  const effort = add(14, whole.effort_until !== null);
  const clocks = whole.clocks.map(() => add(14));
  return { stage, lanes, open, effort, clocks, height: top };
}

/** One climb, channel by channel: the break, the steps, what was done, and what is missing on its day. */
export function ClimbPlot({ whole, all = false }: { whole: ReturnWhole; all?: boolean }) {
  const shown = all ? whole.lanes : ownLanes(whole);
  const rows = climbRows(whole, shown);
  const { row } = whole;
  const x = climbScale(whole.from_day, plusDays(row.first_day, -2), whole.to_day, LEFT, WIDTH - RIGHT);
  const foot = rows.height;
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${foot}`}
      className="climb-plot"
      role="img"
      aria-label={`${row.name}: ${row.short} ${row.said}`}
    >
      <Dates x={x} today={nowShown(whole) ? whole.today : null} height={foot} />
      {row.first_off && <BreakShade whole={whole} x={x} height={foot} />}
      {whole.stage && <StageBand whole={whole} stage={whole.stage} x={x} y={rows.stage} />}
      {shown.map((lane, i) => {
        const place = rows.lanes[i];
        return (
          place && <LaneRow key={lane.code} whole={whole} lane={lane} x={x} top={place.top} main={i === 0} />
        );
      })}
      {rows.lanes[0]?.days !== undefined && <DayBars whole={whole} x={x} top={rows.lanes[0].days} />}
      {whole.open_play.length > 0 && <OpenPlay whole={whole} x={x} y={rows.open} />}
      {whole.effort_until && <Effort whole={whole} x={x} y={rows.effort} />}
      <Clocks whole={whole} x={x} places={rows.clocks} />
      {nowShown(whole) && <path d={`M${x(whole.today)} 18V${foot}`} stroke={colour.ink} strokeWidth="1.2" />}
    </svg>
  );
}

/** Whether today is among the days shown: a break still to come may be far away. */
const nowShown = (whole: ReturnWhole) => whole.from_day <= whole.today && whole.today <= whole.to_day;

function Dates({ x, today, height }: { x: ClimbScale; today: string | null; height: number }) {
  return (
    <g>
      {x.wider && (
        <Words x="0" y="11">
          wider from {dayAndMonth(x.wider)}
        </Words>
      )}
      {climbDates(x, x.wider ? LEFT + 40 : LEFT).map((day) => (
        <g key={day}>
          <path d={`M${x(day)} 18V${height}`} stroke={colour.ruleSoft} />
          {(today === null || Math.abs(x(day) - x(today)) > 34) && (
            <Words x={x(day)} y="11" textAnchor="middle">
              {dayAndMonth(day)}
            </Words>
          )}
        </g>
      ))}
      {today !== null && (
        <Words x={x(today)} y="11" textAnchor="middle" size="small" strong fill={colour.ink}>
          now
        </Words>
      )}
    </g>
  );
}

function BreakShade({ whole, x, height }: { whole: ReturnWhole; x: ClimbScale; height: number }) {
  const [left, right] = [x(whole.row.first_off ?? ""), x(whole.row.first_day)];
  return (
    <g>
      <title>{`Off from ${mediumDay(whole.row.first_off ?? "")}, back on ${mediumDay(whole.row.first_day)}`}</title>
      <rect
        x={left}
        width={Math.max(0, right - left)}
        y="20"
        height={height - 20}
        fill={colour.plum}
        opacity="0.06"
      />
      <path d={`M${left} 20H${right}`} stroke={colour.plum} strokeWidth="2.5" />
    </g>
  );
}

interface LaneProps {
  whole: ReturnWhole;
  lane: ReturnWhole["lanes"][number];
  x: ClimbScale;
  top: number;
  main: boolean;
}

/** One channel: its steps, its own line, how long it is held, and what is missing on the day. */
function LaneRow({ whole, lane, x, top, main }: LaneProps) {
  const height = main ? MAIN : LANE;
  const y = (share: number) => top + height - (Math.min(share, 120) / 120) * height;
  const { today, from_day, row } = whole;
  const upTo = lane.measured.length - 7;
  const done = lane.measured.slice(0, upTo - 1);
  const ahead = lane.measured.map((value, i) => (i < upTo - 2 ? null : value));
  return (
    <g>
      <Words x="0" y={top + 14} size="small" fill={colour.ink}>
        {lane.name}
      </Words>
      <Words x="0" y={top + 28}>
        {main ? `100 % = ${load(lane.reference)}` : `of ${load(lane.reference)} a week`}
      </Words>
      <path
        d={`M${LEFT} ${y(100)}H${WIDTH - RIGHT}`}
        stroke={colour.quiet}
        strokeDasharray="3 3"
        strokeWidth="0.8"
      />
      <path d={`M${LEFT} ${y(0)}H${WIDTH - RIGHT}`} stroke={colour.rule} />
      <ClimbSteps weeks={lane.weeks} x={x} y={y} today={today} end={whole.to_day} />
      {main && <Shares lane={lane} x={x} y={y} />}
      {lane.held_until && lane.held_until > row.first_day && (
        <Held x={x} y={y(52)} from={row.first_day} to={lane.held_until} />
      )}
      <path
        d={climbPath(ahead, from_day, x, y)}
        fill="none"
        stroke={colour.kelp}
        strokeWidth="1.6"
        strokeDasharray="2.5 2.5"
      />
      <path
        d={climbPath(done, from_day, x, y)}
        fill="none"
        stroke={colour.kelp}
        strokeWidth={main ? 2.2 : 1.6}
      />
      {row.target && lane.on_target !== null && (
        <>
          <Missing x={x(row.target)} top={y(100)} from={y(lane.on_target)} bottom={y(0) + (main ? 4 : 0)} />
          <Words
            x={x(row.target) + 6}
            y={y(lane.on_target) + (main ? 14 : 9)}
            size="small"
            strong
            fill={colour.plum}
          >
            {Math.round(lane.on_target)} %
          </Words>
        </>
      )}
    </g>
  );
}

/** What each step is, in per cent, above it where there is room. */
function Shares({ lane, x, y }: { lane: LaneProps["lane"]; x: ClimbScale; y: (share: number) => number }) {
  return lane.weeks.map((week, i) => {
    const width = x(plusDays(week.first, 7)) - x(week.first);
    if (width < 24 || (i > 0 && lane.weeks[i - 1]?.share === week.share)) return null;
    return (
      <Words
        key={week.first}
        x={x(week.first) + width / 2}
        y={y(week.share) - 4}
        textAnchor="middle"
        fill={colour.ceiling}
      >
        {Math.round(week.share)}
      </Words>
    );
  });
}

/** How long a channel is held behind the rest. */
function Held({ x, y, from, to }: { x: ClimbScale; y: number; from: string; to: string }) {
  const [left, right] = [x(from), x(to)];
  return (
    <g>
      <path
        d={`M${left} ${y - 4}v8M${left} ${y}H${right}M${right} ${y - 4}v8`}
        stroke={colour.plum}
        strokeWidth="1.4"
      />
      <Words x={(left + right) / 2} y={y - 5} textAnchor="middle" fill={colour.plum}>
        held
      </Words>
    </g>
  );
}

/** Each day's load on the main channel. */
function DayBars({ whole, x, top }: { whole: ReturnWhole; x: ClimbScale; top: number }) {
  const most = Math.max(1, ...whole.days.map((value) => value ?? 0));
  return (
    <g>
      <Words x="0" y={top + 12} size="small" fill={colour.ink}>
        Each day
      </Words>
      {whole.days.map((value, i) => {
        const day = plusDays(whole.from_day, i);
        const [left, right] = [x(day), x(plusDays(day, 1))];
        const height = ((value ?? 0) / most) * 18;
        if (height <= 0 || right <= left) return null;
        const planned = day >= whole.today;
        return (
          <rect
            key={day}
            x={left + (right - left) * 0.15}
            width={(right - left) * 0.7}
            y={top + 18 - height}
            height={height}
            fill={planned ? colour.paper : colour.quiet}
            stroke={planned ? colour.quiet : "none"}
            fillOpacity={planned ? 1 : 0.7}
          />
        );
      })}
    </g>
  );
}
