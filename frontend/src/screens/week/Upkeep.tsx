import { useQuery } from "@tanstack/react-query";
import { weekUpkeepQuery } from "../../api/queries/week";
import type { Place } from "../../frame/place";

/** Whom the planned week leaves short of what keeps them, and who has work on more days than a rule holds. */
export function Upkeep({ place }: { place: Place }) {
  const { data } = useQuery(weekUpkeepQuery(place.squad.slug, place.day));
  if (!data) return null;
  return (
    <>
      {(data.days_said || data.often.length > 0) && (
        <section aria-label="Days with work" className="week-after">
          <h2>Days with work</h2>
          {data.days_said && <p className="quiet">{data.days_said}</p>}
          <Lines people={data.often} over />
        </section>
      )}
      {data.short.length > 0 && (
        <section aria-label="Short of what keeps them" className="week-after">
          <details>
            <summary>
              Short of what keeps them <span className="quiet">{data.short.length}</span>
            </summary>
            <p className="quiet">
              A third of the usual week, as hard as ever, keeps strength and endurance for weeks.
            </p>
            <Lines people={data.short} />
          </details>
        </section>
      )}
    </>
  );
}

interface LinesProps {
  people: { athlete_id: number; name: string; said: string }[];
  over?: boolean;
}

function Lines({ people, over = false }: LinesProps) {
  if (people.length === 0) return null;
  return (
    <dl className="week-lines">
      {people.map((one) => (
        <div key={one.athlete_id}>
          <dt>{one.name}</dt>
          <dd className={over ? "over" : undefined}>{one.said}</dd>
        </div>
      ))}
    </dl>
  );
}
