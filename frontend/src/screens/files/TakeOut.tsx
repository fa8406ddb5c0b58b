import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";

const FORMATS = ["csv", "tsv", "xlsx", "parquet", "jsonl"];

/** What can be taken along: the whole squad, every athlete's daily loads, and the sessions for a calendar. */
export function TakeOut({ place }: { place: Place }) {
  if (!place.may("export")) return null;
  const base = `/api/squads/${place.squad.slug}`;
  return (
    <section aria-labelledby="out-head" style={{ padding: "0 var(--margin) 18px" }}>
      <h2 id="out-head" style={{ margin: "0 0 6px", fontSize: "var(--type-body)", fontWeight: 650 }}>
        Take out
      </h2>
      <p style={{ margin: 0 }}>
        Daily loads of every unit until {mediumDay(place.day)} as{" "}
        {FORMATS.map((format, i) => (
          <span key={format}>
            {i > 0 && ", "}
            <a className="text-button" href={`${base}/daily-loads.${format}?day=${place.day}`} download>
              {format}
            </a>
          </span>
        ))}
        ; sessions as{" "}
        <a className="text-button" href={`${base}/sessions.ics`} download>
          a calendar
        </a>
        .
      </p>
      <p style={{ margin: "6px 0 0" }}>
        <a className="text-button" href={`${base}/files/squad.zip`} download>
          The whole squad
        </a>{" "}
        as one ZIP of tables (CSV and Parquet, described in datapackage.json): people, sessions, entries,
        recordings, reports, tests, limits with their history, calls. Dropped above in a squad in which nobody
        is yet, it gives the same figures again.
        {!place.may("read_clinical") && " Clinical detail is not in it."}
      </p>
    </section>
  );
}
