import type { ReturnStage, ReturnWhole } from "../api/client";
import { dayAndMonth, plusDays } from "../frame/days";
import { colour } from "../theme/tokens";
import type { ClimbScale } from "./climbScale";
import { HALO } from "./TimeRows";
import { Words } from "./Words";

interface RowProps {
  whole: ReturnWhole;
  x: ClimbScale;
  y: number;
}

/** Stages so far as a band; those still to come are open, for nobody knows when. */
export function StageBand({ whole, stage, x, y }: RowProps & { stage: ReturnStage }) {
  const now = x(whole.today);
  return (
    <g>
      <Words x="0" y={y + 12} size="small" fill={colour.ink}>
        Stage
      </Words>
      {stage.spans.map(({ number, first: from, last: to }, i) => {
        const left = x(from);
        const right = i === stage.spans.length - 1 ? now : x(to);
        const current = i === stage.spans.length - 1;
        return (
          <g key={`${number} ${from}`}>
            <rect
              x={left}
              width={Math.max(1, right - left - 1)}
              y={y}
              height="15"
              fill={colour.plum}
              opacity={current ? 1 : 0.28}
            />
            {right - left > 12 && (
              <Words x={left + 5} y={y + 11.5} strong fill={current ? colour.raised : colour.ink}>
                {number}
              </Words>
            )}
          </g>
        );
      })}
      {stage.number < stage.of && (
        <>
          <rect
            x={now}
            width={Math.max(0, x.right - now)}
            y={y + 0.5}
            height="14"
            fill="none"
            stroke={colour.plum}
            strokeDasharray="2 2"
          />
          <Words x={now + 6} y={y + 11.5} fill={colour.plum}>
            {stage.number + 1}
            {stage.number + 1 < stage.of ? ` to ${stage.of}` : ""} once everything holds
          </Words>
        </>
      )}
    </g>
  );
}

/** How much of the play may be open, as a staircase. */
export function OpenPlay({ whole, x, y }: RowProps) {
  const foot = y + 30;
  return (
    <g>
      <Words x="0" y={y + 13} size="small" fill={colour.ink}>
        Open play
      </Words>
      <Words x="0" y={y + 26}>
        at most, %
      </Words>
      {whole.open_play.map(({ first, share }, i) => {
        const [left, right] = [x(first), i === whole.open_play.length - 1 ? x.right : x(plusDays(first, 7))];
        const now = Math.min(Math.max(x(whole.today), left), right);
        const top = foot - (share / 100) * 24;
        const changed = i === 0 || whole.open_play[i - 1]?.share !== share;
        return (
          <g key={first}>
            <rect x={left} width={now - left} y={top} height={foot - top} fill={colour.paleKelp} />
            <rect x={now} width={right - now} y={top} height={foot - top} fill="url(#climb-open)" />
            <path d={`M${left} ${top}H${right}`} stroke={colour.kelp} strokeWidth="1.2" />
            {changed && (
              <Words x={left + 3} y={top - 3} fill={colour.kelpDeep}>
                {share === 0 ? "drills" : share}
              </Words>
            )}
          </g>
        );
      })}
      <path d={`M${x.left} ${foot}H${x.right}`} stroke={colour.rule} />
    </g>
  );
}

/** Until when effort is capped. */
export function Effort({ whole, x, y }: RowProps) {
  const [left, right] = [x(whole.row.first_day), x(plusDays(whole.effort_until ?? "", 1))];
  return (
    <g>
      <Words x="0" y={y + 10} size="small" fill={colour.ink}>
        Effort
      </Words>
      <path
        d={`M${left} ${y + 2}v9M${left} ${y + 6.5}H${right}M${right} ${y + 2}v9`}
        stroke={colour.ink}
        strokeWidth="1.2"
      />
      <Words x={right + 6} y={y + 10}>
        {whole.effort_cap === null
          ? `capped until ${dayAndMonth(whole.effort_until ?? "")}`
          : `at most ${whole.effort_cap} until ${dayAndMonth(whole.effort_until ?? "")}`}
      </Words>
    </g>
  );
}

/** Room that what is said of a clock takes. */
const SAID = 250;

/** How long tissue may take: dotted, open at both ends, and no measurement. */
export function Clocks({ whole, x, places }: { whole: ReturnWhole; x: ClimbScale; places: number[] }) {
  return whole.clocks.map((clock, i) => {
    const y = places[i] ?? 0;
    const [left, right] = [x(clock.early), x(clock.late)];
    return (
      <g key={clock.tissue}>
        <title>{clock.source}</title>
        <Words x="0" y={y + 10} size="small" fill={colour.ink}>
          {clock.tissue.replace(/^./, (letter) => letter.toUpperCase())}
        </Words>
        <path d={`M${x(whole.row.first_day)} ${y + 7}H${left}`} stroke={colour.quiet} strokeDasharray="1 3" />
        <rect
          x={left}
          width={Math.max(2, right - left)}
          y={y + 1}
          height="12"
          fill={colour.row}
          stroke={colour.quiet}
          strokeDasharray="1 2"
        />
        {left + 4 + SAID > x.right ? (
          <Words x={x.right - 4} y={y + 10.5} textAnchor="end" {...HALO}>
            {clock.said}
          </Words>
        ) : (
          <Words x={left + 4} y={y + 10.5} {...HALO}>
            {clock.said}
          </Words>
        )}
      </g>
    );
  });
}
