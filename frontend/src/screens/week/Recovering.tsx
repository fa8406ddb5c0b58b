import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { recoveringQuery } from "../../api/queries/week";
import { shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";

/** Heavy days that are too close for a system to recover between them, and where to read what helps. */
export function Recovering({ place }: { place: Place }) {
  const { data } = useQuery(recoveringQuery(place.squad.slug, place.day));
  if (!data || data.conflicts.length === 0) return null;
  return (
    <section aria-label="Too close to recover" className="week-after">
      <h2>Too close to recover</h2>
      <dl className="week-lines">
        {data.conflicts.map((one) => (
          <div key={`${one.athlete_id} ${one.day}`}>
            <dt>
              {one.name} <span className="quiet">{shortDay(one.day)}</span>
            </dt>
            <dd>{one.said}</dd>
          </div>
        ))}
      </dl>
      <p className="quiet">
        {data.cold}{" "}
        <Link className="text-button" to={`${place.to("/method")}#recovery`}>
          What helps, in order
        </Link>
      </p>
    </section>
  );
}
