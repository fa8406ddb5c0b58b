import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { FileItem } from "../../api/client";
import { sessionQuery } from "../../api/queries/session";
import { mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { FileActions } from "./FileActions";
import { STATES } from "./fileStates";
import { shortly } from "./fileWords";

interface RecordingTold {
  athlete_id: number;
  session_id: string;
  kind: string;
  minutes: number;
  samples: number;
  dropped: number;
  coverage: number | null;
  beside: string[];
}

interface Report {
  wrong?: string;
  rows_read?: number;
  dropped?: number;
  problem_count?: number;
  problems?: { row: number | null; column: string; said: string; why: string }[];
  unknown?: string[];
  left_out?: string[];
  unplaced?: string[];
  notes?: string[];
  sessions?: string[];
  recordings?: RecordingTold[];
  entries?: number;
  works?: number;
  reports?: number;
  results?: number;
  fixtures?: number;
  changed?: number;
  people?: number;
  kept_apart?: string[];
  package?: Record<string, number>;
  overlaps?: number;
  kept?: string[];
}

const KINDS: Record<string, string> = { heart_rate: "heart rate", position: "speed", impacts: "impacts" };

/** What came in, what did not and why, row by row. */
export function FileReport({ place, file }: { place: Place; file: FileItem }) {
  const report = file.report as Report;
  const first = report.recordings?.[0];
  return (
    <>
      <h2 style={{ margin: 0, fontSize: "var(--type-head)", fontWeight: 700, overflowWrap: "anywhere" }}>
        {file.file_name}
      </h2>
      <p className="quiet" style={{ margin: "2px 0 12px" }}>
        {STATES[file.state]}
        {file.undone_at && `, ${mediumDay(file.undone_at.slice(0, 10))}`}
      </p>
      {report.wrong && (
        <p role="alert" className="over" style={{ margin: "0 0 12px" }}>
          {report.wrong}
        </p>
      )}
      {report.package && (
        <p style={{ margin: "0 0 12px" }}>
          {Object.entries(report.package)
            .filter(([, count]) => count > 0)
            .map(([what, count]) => `${say.load(count)} ${what.replaceAll("_", " ")}`)
            .join(", ")}
          .
        </p>
      )}
      {file.state === "done" && !report.package && (
        <p style={{ margin: "0 0 12px" }}>
          {report.recordings && <>{say.load(report.recordings.length)} recordings. </>}
          {report.entries ? <>{say.load(report.entries)} entries. </> : null}
          {report.reports ? <>{say.load(report.reports)} reports. </> : null}
          {report.results ? <>{say.load(report.results)} results. </> : null}
          {report.fixtures ? <>{say.load(report.fixtures)} sessions made. </> : null}
          {report.changed ? <>{say.load(report.changed)} changed. </> : null}
          {report.people ? <>{say.load(report.people)} people. </> : null}
          {report.works ? <>{say.load(report.works)} loads. </> : null}
          {say.load(report.rows_read ?? 0)} rows read
          {report.dropped ? `, ${say.load(report.dropped)} left out` : ", none left out"}.{" "}
          {report.sessions && shortly(report.sessions)}
        </p>
      )}
      {first && file.state === "done" && (
        <p style={{ margin: "0 0 12px" }}>
          <Link
            className="text-button"
            to={place.to("/session", { session: first.session_id, show: "recordings" })}
          >
            See what was recorded
          </Link>
        </p>
      )}
      {report.overlaps ? (
        <p style={{ margin: "0 0 12px" }}>
          {report.overlaps} {report.overlaps === 1 ? "stands" : "stand"} beside another device at the same
          time: the first one counts until you choose in the session.
        </p>
      ) : null}
      {report.notes?.map((note) => (
        <p key={note} className="quiet" style={{ margin: "0 0 8px" }}>
          {note}
        </p>
      ))}
      {report.kept_apart?.map((note) => (
        <p key={note} className="quiet" style={{ margin: "0 0 8px" }}>
          {note}
        </p>
      ))}
      {report.left_out?.length ? (
        <p className="quiet" style={{ margin: "0 0 12px" }}>
          Not of the squad, left out: {report.left_out.join(", ")}.
        </p>
      ) : null}
      {report.kept?.map((line) => (
        <p key={line} style={{ margin: "0 0 8px" }}>
          {line}
        </p>
      ))}
      <FileActions place={place} file={file} />
      {report.recordings && report.recordings.length > 0 && file.state === "done" && (
        <RecordingsTold place={place} told={report.recordings} />
      )}
      {report.problems && report.problems.length > 0 && (
        <Problems problems={report.problems} count={report.problem_count ?? report.problems.length} />
      )}
    </>
  );
}

function RecordingsTold({ place, told }: { place: Place; told: RecordingTold[] }) {
  const grid = useQuery(sessionQuery(place.squad.slug, place.day, told[0]?.session_id ?? null));
  const name = (id: number) => grid.data?.rows.find((row) => row.athlete_id === id)?.name ?? "";
  return (
    <table className="preview-rows" style={{ marginTop: 14 }}>
      <thead>
        <tr>
          <th scope="col">Recorded</th>
          <th scope="col" className="number">
            min
          </th>
          <th scope="col" className="number">
            covered
          </th>
          <th scope="col" className="number">
            dropped
          </th>
        </tr>
      </thead>
      <tbody>
        {told.map((one) => (
          <tr key={`${one.athlete_id} ${one.kind} ${one.session_id}`}>
            <td>
              {name(one.athlete_id)} <span className="quiet">{KINDS[one.kind] ?? one.kind}</span>
            </td>
            <td className="number figure">{say.short(one.minutes)}</td>
            <td
              className={`number figure${one.coverage !== null && one.coverage < 0.8 ? " over" : ""}`}
              title={one.coverage !== null && one.coverage < 0.8 ? "Large parts are missing" : undefined}
            >
              {one.coverage === null ? "–" : `${Math.round(one.coverage * 100)} %`}
            </td>
            <td className="number figure">{say.load(one.dropped)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function Problems({ problems, count }: { problems: NonNullable<Report["problems"]>; count: number }) {
  return (
    <section aria-label="Rows that cannot be read" style={{ marginTop: 14 }}>
      <h3 style={{ margin: "0 0 4px", fontSize: "var(--type-text)", fontWeight: 650 }}>
        {say.load(count)} {count === 1 ? "row" : "rows"} that cannot be read
      </h3>
      <table className="preview-rows">
        <tbody>
          {problems.slice(0, 100).map((problem) => (
            <tr key={`${problem.row} ${problem.column} ${problem.said}`}>
              <td className="number figure">{problem.row ?? ""}</td>
              <td>
                {problem.column} {problem.said && <q>{problem.said}</q>}
              </td>
              <td>{problem.why}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {count > 100 && <p className="quiet">and {say.load(count - 100)} more.</p>}
    </section>
  );
}
