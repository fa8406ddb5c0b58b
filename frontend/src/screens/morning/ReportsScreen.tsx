import { Button, Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { ReportRow, Reports } from "../../api/client";
import { reportsQuery } from "../../api/queries/reports";
import { squadCodeQuery } from "../../api/queries/squad";
import { clockTime, longDay, shortDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Complaints } from "./Complaints";
import { MorningTabs } from "./MorningTabs";
import { ReportPanel } from "./ReportPanel";
import { HEADS, inOrder, reminderForAll, TRAINING, trainingText } from "./reports";
import "../squad/squad.css";
import "./reports.css";

/** What people said this morning, who is missing since when, and what came up that needs a clinician. */
export default function ReportsScreen({ place }: { place: Place }) {
  const reports = useQuery(reportsQuery(place.squad.slug, place.day));
  const toast = useToast();
  const [code, setCode] = useState(false);
  if (reports.isError)
    return (
      <Message title="The reports could not be loaded" action="Try again" onAction={() => reports.refetch()}>
        {reports.error.message}
      </Message>
    );
  const data = reports.data;
  const rows = inOrder(data?.rows ?? []);
  const chosen = rows.find((row) => String(row.athlete_id) === place.get("athlete"));
  const missing = rows.filter((row) => row.state === "missing");
  const copyAll = async () => {
    await navigator.clipboard.writeText(reminderForAll(rows));
    toast("A text for everyone who is missing is copied.");
  };
  return (
    <>
      <MorningTabs place={place} />
      <div className="summary">
        {data ? <Heading reports={data} /> : <h1 className="quiet">Reading the reports …</h1>}
        <div className="summary-end">
          {missing.length > 0 && (
            <button type="button" className="text-button" onClick={copyAll}>
              Copy a reminder to all who are missing
            </button>
          )}
          {place.may("read_reports") && (
            <button type="button" className="text-button" onClick={() => setCode(!code)}>
              {code ? "Put the squad’s code away" : "Show the squad’s code"}
            </button>
          )}
          <span>{longDay(place.day)}</span>
        </div>
      </div>
      {code && <SquadCode place={place} />}
      <div className="desk">
        <div className="desk-main">
          {data?.complaints && <Complaints place={place} reports={data} />}
          {!data ? (
            <Skeleton height="300px" m="5" />
          ) : rows.length === 0 ? (
            <Message title="Nobody is in this squad yet">Athletes are added under Squad, Accounts.</Message>
          ) : (
            <Table reports={data} rows={rows} place={place} chosen={chosen?.athlete_id} />
          )}
        </div>
        <aside className={`desk-side${chosen ? "" : " closed"}`} aria-label="One athlete">
          {chosen && data ? (
            <ReportPanel key={chosen.athlete_id} place={place} reports={data} row={chosen} />
          ) : (
            <p className="quiet">
              {place.may("read_reports")
                ? "Pick an athlete for their words, the weekly signs, and to enter what they told you. 10 is the good end on every scale."
                : "Pick an athlete to read what to change in training. Why is between them and the clinician."}
            </p>
          )}
        </aside>
      </div>
    </>
  );
}

/** What everyone in the room can point a phone at to get to their own page. */
function SquadCode({ place }: { place: Place }) {
  const code = useQuery(squadCodeQuery(place.squad.slug));
  if (code.isError) return <p className="over">{code.error.message}</p>;
  if (!code.data) return <Skeleton height="240px" m="5" />;
  return (
    <section className="squad-code" aria-label="The squad’s code">
      <img
        alt={`QR code to the phone page of ${place.squad.name}`}
        width={220}
        height={220}
        src={`data:image/svg+xml,${encodeURIComponent(code.data.picture)}`}
      />
      <div>
        <h2>Point the phone’s camera here</h2>
        <p>Everyone signs in with their own name and lands on their own questions.</p>
        <p className="figure">{code.data.address}</p>
        <Button size="sm" onClick={() => window.print()}>
          Print it
        </Button>
      </div>
    </section>
  );
}

function Heading({ reports }: { reports: Reports }) {
  const asked = reports.rows.filter((row) => row.state === "in" || row.state === "missing");
  const limited = reports.rows.filter((row) => row.stands !== "plan");
  if (!reports.form)
    return (
      <h1>
        <b>{limited.length}</b> of {reports.rows.length} do not train fully
      </h1>
    );
  if (asked.length === 0) return <h1>No report is asked for today</h1>;
  return (
    <h1>
      <b>{asked.filter((row) => row.state === "in").length}</b> of {asked.length} reports are in
      {reports.unseen ? (
        <>
          , <b>{reports.unseen}</b> new for the clinician
        </>
      ) : null}
    </h1>
  );
}

interface TableProps {
  reports: Reports;
  rows: ReportRow[];
  place: Place;
  chosen: number | undefined;
}

function Table({ reports, rows, place, chosen }: TableProps) {
  const items = reports.form?.asked ?? [];
  return (
    <table className="plain-table reports-table">
      <thead>
        <tr>
          <th scope="col">Athlete</th>
          {reports.form && <th scope="col">Sent</th>}
          {items.map((item) => (
            <th key={item.code} scope="col" className="number">
              {HEADS[item.code] ?? item.code}
            </th>
          ))}
          <th scope="col">Training</th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.athlete_id} className={row.athlete_id === chosen ? "chosen" : undefined}>
            <td>
              <button
                type="button"
                className="text-button plain"
                onClick={() => place.set({ athlete: String(row.athlete_id) }, true)}
              >
                {row.name}
              </button>{" "}
              <span className="quiet">{row.position}</span>
            </td>
            {reports.form && (
              <td>
                <Sent row={row} zone={place.squad.time_zone} />
              </td>
            )}
            {items.map((item) => (
              <td key={item.code} className="number">
                <Value value={row.daily?.answers[item.code]} most={item.most} scale={item.good === "high"} />
              </td>
            ))}
            <td>
              <span className={row.stands === "plan" ? "quiet" : `training ${TRAINING[row.stands]}`}>
                {trainingText(row)}
              </span>
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Sent({ row, zone }: { row: ReportRow; zone: string }) {
  if (row.state === "missing")
    return (
      <span className="missing">
        {row.missing_since ? `missing since ${shortDay(row.missing_since)}` : "missing"}
        {row.unrated.length > 0 && `, ${row.unrated.length} to rate`}
      </span>
    );
  const said = row.daily;
  return (
    <>
      {said ? (
        <>
          <span className="figure">{clockTime(said.made_at, zone)}</span>
          {said.timing !== "on time" && <span className="quiet"> {said.timing}</span>}
          {said.told_by && <span className="quiet"> told</span>}
        </>
      ) : (
        <span className="quiet">not asked</span>
      )}
      {row.unrated.length > 0 && <span className="missing"> {row.unrated.length} to rate</span>}
      {row.rivals > 0 && <span className="missing"> sent twice</span>}
    </>
  );
}

/** A number with its height on the scale under it; 10 is the good end. */
function Value({ value, most, scale }: { value: number | undefined; most: number; scale: boolean }) {
  if (value === undefined) return <span className="quiet">·</span>;
  return (
    <span className="value figure">
      {say.short(value)}
      {scale && most === 10 && <i style={{ width: `${value * 10}%` }} />}
    </span>
  );
}
