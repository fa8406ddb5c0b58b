import type { LiveLane } from "../../api/client";
import { Ribbon } from "../../charts/Ribbon";
import * as say from "../../frame/numbers";

interface Props {
  lane: LiveLane;
  now: number;
  zone: string;
}

const MARKS: Record<string, string> = {
  over: "M6 1.2 11.2 10.6H.8Z",
  under: "M.8 1.4H11.2L6 10.8Z",
  missing: "M1 2.6H4.4V9.4H1ZM7.6 2.6H11V9.4H7.6Z",
};

/** Somebody who needs a look: the name, why, ten minutes against the aim, and what is left of room. */
export function Grown({ lane, now, zone }: Props) {
  const act = lane.height === 2;
  return (
    <article className={`live-lane ${act ? "act" : "look"}`} aria-label={`${lane.name}: ${lane.sentence}`}>
      <div className="live-what">
        <h2>
          <svg viewBox="0 0 12 12" className={`live-mark ${lane.mark}`} aria-hidden="true">
            <path d={MARKS[lane.mark] ?? ""} />
          </svg>
          <b>{lane.name}</b> <span>{told(lane, now)}</span>
        </h2>
        <Ribbon
          shares={lane.ribbon}
          low={lane.low}
          high={lane.high}
          width={600}
          height={act ? 56 : 26}
          label={`${lane.name}, heart rate against the aim`}
        />
      </div>
      <div className="live-share">
        {lane.share === null ? (
          <>
            <svg viewBox="0 0 44 24" className="live-hollow" role="img" aria-label="no value">
              <path d="M1 1H19V23H1ZM25 1H43V23H25Z" />
            </svg>
            <small>{lastSeen(lane, zone)}</small>
          </>
        ) : (
          <>
            <b className={lane.fault ? "doubtful" : undefined}>
              {lane.fault && "≈"}
              {Math.round(lane.share)}
              <i>%</i>
            </b>
            <small>
              {Math.round(lane.bpm ?? 0)} a min{lane.fault === "late" ? ", late" : ""}
            </small>
          </>
        )}
      </div>
      <RoomLeft lane={lane} />
    </article>
  );
}

const told = (lane: LiveLane, now: number) =>
  lane.fault === "missing" && lane.seen_at !== null
    ? `no signal for ${say.load(Math.max(now - lane.seen_at, 0))} s`
    : lane.sentence;

function lastSeen(lane: LiveLane, zone: string): string {
  if (lane.seen_at === null || lane.bpm === null) return "nothing yet";
  const at = new Date(lane.seen_at * 1000).toLocaleTimeString("en-GB", { timeZone: zone });
  return `last ${Math.round(lane.bpm)}, ${at}`;
}

/** What is left of room, from heart rate by the own relation to rating; the rating takes its place later. */
function RoomLeft({ lane }: { lane: LiveLane }) {
  if (lane.left === null || lane.load === null)
    return (
      <div className="live-room">
        <small>
          {lane.load === null ? "no own relation of rating to heart rate yet" : "no figure for room"}
        </small>
      </div>
    );
  const whole = Math.max(lane.load + Math.max(lane.left, 0), 1);
  return (
    <div
      className="live-room"
      title={`Load so far about ${say.load(lane.load)}, ± ${say.load(lane.error ?? 0)}`}
    >
      <b>
        ≈{say.load(Math.max(Math.floor(lane.left), 0))} <i>left</i>
      </b>
      <svg viewBox="0 0 110 12" aria-hidden="true">
        <rect width="110" height="11" y="0.5" className="room-slot" />
        <rect width={(lane.load / whole) * 110} y="2" height="8" className="room-used" />
      </svg>
      <small>
        {lane.minutes === null || lane.minutes > 90 ? "" : `${say.load(lane.minutes)} min at this pace`}
      </small>
    </div>
  );
}
