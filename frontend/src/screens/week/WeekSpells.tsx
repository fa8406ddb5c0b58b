import { useQuery } from "@tanstack/react-query";
import type { WeekSpells as Found, Week } from "../../api/client";
import { weekSpellsQuery } from "../../api/queries/week";
import { shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";

type Spelled = Found["spells"][number];

/** Counts that are over what somebody may do in one go: in how many spells, and whether the session has room for them. */
export function WeekSpells({ place, week }: { place: Place; week: Week }) {
  const { data } = useQuery(weekSpellsQuery(place.squad.slug, place.day));
  if (!data || data.spells.length === 0) return null;
  const titles = new Map(week.days.flatMap(({ sessions }) => sessions.map((one) => [one.id, one.title])));
  const sessions = [...new Set(data.spells.map((one) => one.session_id))];
  return (
    <section aria-label="In spells" className="week-after">
      <h2>In spells</h2>
      {sessions.map((id) => {
        const mine = data.spells.filter((one) => one.session_id === id);
        const first = mine[0];
        return (
          first && (
            <details key={id} open={mine.some((one) => !one.fits)}>
              <summary>
                {shortDay(first.day)} {titles.get(id)} <span className="quiet">{headSaid(mine)}</span>
              </summary>
              <dl className="week-lines">
                {mine.map((one) => (
                  <div key={`${one.athlete_id} ${one.what}`}>
                    <dt>{one.name}</dt>
                    <dd className={one.fits ? undefined : "over"}>{one.said}</dd>
                  </div>
                ))}
              </dl>
            </details>
          )
        );
      })}
    </section>
  );
}

export function headSaid(spells: Spelled[]): string {
  const people = new Set(spells.map((one) => one.athlete_id)).size;
  const without = new Set(spells.filter((one) => !one.fits).map((one) => one.athlete_id)).size;
  return without > 0 ? `${people}, no room for ${without}` : String(people);
}
