import { useState } from "react";
import type { Live } from "../../api/client";
import type { Place } from "../../frame/place";
import { bluetooth } from "./strap";
import { useStrap } from "./useStrap";

/** A strap near this screen, read by the browser itself; nothing is asked for before the button is pressed. */
export function OwnStrap({ place, live }: { place: Place; live: Live }) {
  const { strap, bpm, said, start, stop } = useStrap(place.squad.slug, live.session.id);
  const [athlete, setAthlete] = useState("");
  const lane = live.lanes.find((one) => String(one.athlete_id) === athlete);
  if (!bluetooth()) return null;
  return (
    <section className="live-strap" aria-label="A strap near this screen">
      {strap ? (
        <p>
          <b>{lane?.name}</b> wears {strap.name}: {bpm === null ? "no contact" : `${bpm} a minute`}{" "}
          <button type="button" className="text-button" onClick={stop}>
            Stop reading
          </button>
        </p>
      ) : (
        <div className="live-acts">
          <select
            aria-label="Who wears it"
            value={athlete}
            onChange={(event) => setAthlete(event.target.value)}
          >
            <option value="">who wears it</option>
            {live.lanes.map((one) => (
              <option key={one.athlete_id} value={one.athlete_id}>
                {one.name}
              </option>
            ))}
          </select>
          <button type="button" disabled={!lane} onClick={() => lane && void start(lane.athlete_id)}>
            Read a strap by Bluetooth
          </button>
        </div>
      )}
      {said && <p role="status">{said}</p>}
    </section>
  );
}
