import { Link } from "react-router";
import { api, ask, type Returns } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useDoing } from "../../kit/useDoing";

/** Trials of rest: judged on their day, and how they fork: better begins a climb, not better stays off. */
export function Trials({ place, returns }: { place: Place; returns: Returns }) {
  const { slug } = place.squad;
  const toast = useToast();
  const judge = useDoing(
    [slug],
    (what: { athlete_id: number; better: boolean; first: string }) =>
      ask(
        api.POST("/api/squads/{slug}/rest-trials/judge", {
          params: { path: { slug } },
          body: { athlete_id: what.athlete_id, better: what.better },
        }),
      ),
    (_, { athlete_id, better, first }) => {
      if (better)
        place.set({ begin: "one", who: String(athlete_id), off: first, back: place.day, from: "rest" });
      else toast("Still off, and to be referred: a clinician says how much they may train.");
    },
  );
  if (returns.trials.length === 0) return null;
  return (
    <section>
      <h2>
        Rest trial <span className="quiet">{returns.trials.length}</span>
      </h2>
      {returns.trials.map((one) => (
        <div key={one.athlete_id} className="return-trial">
          <Link className="text-button" to={place.to("/morning", { athlete: String(one.athlete_id) })}>
            {one.name}
          </Link>{" "}
          <span className="quiet">
            {one.position} · day {one.day} of {one.days}
          </span>
          <p>{one.said} Better: a light start, up in steps. Not better: still off, and referred.</p>
          {one.judge && place.may("enter_reports") && (
            <div className="form-actions">
              <button
                type="button"
                className="text-button"
                onClick={() => judge.mutate({ athlete_id: one.athlete_id, better: true, first: one.first })}
              >
                Better: plan a light start
              </button>
              <button
                type="button"
                className="text-button"
                onClick={() => judge.mutate({ athlete_id: one.athlete_id, better: false, first: one.first })}
              >
                Not better
              </button>
            </div>
          )}
        </div>
      ))}
    </section>
  );
}
