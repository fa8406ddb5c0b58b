import type { WorkRow } from "../../api/client";
import type { Place } from "../../frame/place";

interface AthleteListProps {
  place: Place;
  rows: WorkRow[];
  chosen: WorkRow;
  /** What stands beside a name. */
  said: (row: WorkRow) => string;
}

/** The one whose work is entered stands in the address: a link shows the same again. */
export function chosenOf(place: Place, rows: WorkRow[]): WorkRow | undefined {
  return rows.find((row) => String(row.athlete_id) === place.get("athlete")) ?? rows[0];
}

/** Everyone in the session, to pick whose work is entered. */
export function AthleteList({ place, rows, chosen, said }: AthleteListProps) {
  return (
    <nav className="pad-people" aria-label="Athletes">
      {rows.map((row) => (
        <button
          key={row.athlete_id}
          type="button"
          aria-pressed={row === chosen}
          onClick={() => place.set({ athlete: String(row.athlete_id) }, true)}
        >
          <span>{row.name}</span>
          <small>{said(row)}</small>
        </button>
      ))}
    </nav>
  );
}
