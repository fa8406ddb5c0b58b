import { useState } from "react";
import type { Live, LiveLane } from "../../api/client";
import { clockTime } from "../../frame/days";
import type { Place } from "../../frame/place";
import type { Note } from "../field/useField";
import { Hubs } from "./Hubs";

interface Props {
  place: Place;
  live: Live;
  grown: LiveLane[];
  note: Note;
}

/** What to do with those who need somebody: one tap, undone for ten seconds; the latest words; and the sensors. */
export function LiveSide({ place, live, grown, note }: Props) {
  const names = new Map(live.lanes.map((lane) => [lane.athlete_id, lane.name]));
  const faults = live.lanes.filter((lane) => lane.fault && lane.devices.length > 0);
  const two = live.lanes.filter((lane) => lane.devices.length > 1);
  return (
    <aside className="live-side" aria-label="Do now">
      <h3>
        Do now <span>one tap, undo for 10 s</span>
      </h3>
      {grown
        .filter((lane) => lane.mark === "over" || lane.mark === "under")
        .slice(0, 4)
        .map((lane) => (
          <Act key={lane.athlete_id} lane={lane} note={note} />
        ))}
      {live.words.length > 0 && <h3>Latest words</h3>}
      {live.words.map((one) => (
        <p key={one.id} className="live-word">
          <time>{clockTime(one.at, place.squad.time_zone)}</time>{" "}
          <b>{one.athlete_id && names.get(one.athlete_id)}</b> {one.words} <small>{one.by}</small>
        </p>
      ))}
      {faults.length + two.length > 0 && <h3>Sensors</h3>}
      {faults.map((lane) => (
        <p key={lane.athlete_id} className="live-word">
          {lane.name}: {FAULTS[lane.fault ?? ""]}
        </p>
      ))}
      {two.map((lane) => (
        <p key={lane.athlete_id} className="live-word">
          {lane.name} wears two: {lane.devices.join(" and ")}
        </p>
      ))}
      <details>
        <summary>Hubs</summary>
        <Hubs place={place} />
      </details>
    </aside>
  );
}

const FAULTS: Record<string, string> = {
  held: "held, nothing new for some seconds",
  late: "packets come late, estimated",
  missing: "no signal",
  doubtful: "in doubt: it stands still, jumps, or beats over the own maximum",
};

/** Where the aim is, from where somebody is now. */
function wanted(lane: LiveLane): string {
  if (lane.high === null || lane.low === null) return "";
  return lane.mark === "under" ? `up to ${Math.round(lane.low)} %` : `back under ${Math.round(lane.high)} %`;
}

function Act({ lane, note }: { lane: LiveLane; note: Note }) {
  const [words, setWords] = useState<string | null>(null);
  const athlete = lane.athlete_id;
  return (
    <section>
      <p>
        <b>{lane.name}</b> {wanted(lane)}
      </p>
      <div className="live-acts">
        <button
          type="button"
          onClick={() => note("break", `${lane.name}: a break of 2 min.`, { athlete, amount: 120 })}
        >
          Break 2:00
        </button>
        <button type="button" onClick={() => note("leave", `${lane.name} has left.`, { athlete })}>
          End session
        </button>
        <button type="button" onClick={() => setWords(words === null ? "" : null)}>
          Note
        </button>
      </div>
      {words !== null && (
        <form
          className="live-acts"
          onSubmit={(event) => {
            event.preventDefault();
            if (words.trim()) note("note", `Noted: ${lane.name}.`, { athlete, words: words.trim() });
            setWords(null);
          }}
        >
          <input
            aria-label={`Words about ${lane.name}`}
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          <button type="submit">Keep</button>
        </form>
      )}
    </section>
  );
}
