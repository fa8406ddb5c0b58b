import * as say from "../frame/numbers";
import { colour } from "../theme/tokens";
import { Hatch } from "./Hatch";
import "./charts.css";

interface Props {
  /** Minutes that room leaves, at most those of the session; null without a figure. */
  room: number | null;
  plan: number;
  /** Minutes of the session that are left. */
  most: number;
}

const WIDTH = 330;
const HEIGHT = 22;

/** Room as minutes on what is left of the session: the slot, the plan in it, and what of the plan is over. */
export function RoomMinutes({ room, plan, most }: Props) {
  const x = (minutes: number) => 1 + (Math.min(minutes, most) / Math.max(most, 1)) * (WIDTH - 4);
  const over = room !== null && plan > room + 0.5;
  return (
    <span className="room-minutes">
      <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden="true">
        <defs>
          <Hatch id="minutes-plan" ground={colour.raised} line={colour.kelpMiddle} />
          <Hatch id="minutes-over" ground={colour.raised} line={colour.madder} />
        </defs>
        {room !== null && room > 0 && (
          <rect
            x="1"
            y="3"
            width={x(room) - 1}
            height="16"
            fill={colour.raised}
            stroke={colour.ink}
            strokeWidth="1.4"
          />
        )}
        {plan > 0 && (
          <rect
            x="1"
            y="6"
            width={x(Math.min(plan, room ?? plan)) - 1}
            height="10"
            fill="url(#minutes-plan)"
          />
        )}
        {over && <rect x={x(room)} y="6" width={x(plan) - x(room)} height="10" fill="url(#minutes-over)" />}
        <path d={`M1 0V${HEIGHT}`} stroke={colour.ink} strokeWidth="2" />
      </svg>
      <b className={over ? "over" : undefined}>
        {room === null ? "no figure" : `${say.load(Math.floor(room))} min`}
      </b>
      {over && <small className="over">plan {say.load(plan)}</small>}
    </span>
  );
}
