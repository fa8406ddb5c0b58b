import type { Returns } from "../../api/client";
import type { Place } from "../../frame/place";

const FILES = [
  ["weeks.csv", "weeks (CSV)"],
  ["weeks.xlsx", "weeks (workbook)"],
  ["criteria.csv", "criteria (CSV)"],
  ["log.csv", "what happened (CSV)"],
  ["plans.json", "everything (JSON)"],
] as const;

/** The week's sheet of who comes back, without reasons, to be printed; and the plans as files. */
export function GiveOut({ place, returns }: { place: Place; returns: Returns }) {
  const { slug } = place.squad;
  return (
    <>
      <h2>Sheet of the week</h2>
      <p className="quiet">What each may do; no reason stands on it.</p>
      <ul className="return-sheet">
        {returns.rows.map((row) => (
          <li key={row.plan_id}>
            <b>{row.name}</b> {row.said}
            {row.allowed.length > 0 && ` Today: ${row.allowed.join(", ")}.`}
          </li>
        ))}
      </ul>
      <div className="form-actions">
        <button type="button" className="text-button" onClick={() => window.print()}>
          Print it
        </button>
        <button type="button" className="text-button" onClick={() => place.set({ begin: null })}>
          Close
        </button>
      </div>
      {place.may("plan_returns") && (
        <p>
          As files:{" "}
          {FILES.map(([file, name]) => (
            <a
              key={file}
              className="text-button"
              href={`/api/squads/${slug}/return/${file}?day=${place.day}`}
              download
            >
              {name}
            </a>
          ))}
        </p>
      )}
    </>
  );
}
