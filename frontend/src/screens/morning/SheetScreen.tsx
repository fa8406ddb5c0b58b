import { Button, Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, ask, type Problem, type Sheet } from "../../api/client";
import { sheetQuery } from "../../api/queries/morning";
import { clockTime, longDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { MorningTabs } from "./MorningTabs";
import "./sheet.css";

/** One sheet for the coach: who does what today, in plain words, without clinical detail or reasons. */
export default function SheetScreen({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const sheet = useQuery(sheetQuery(slug, place.day));
  const queries = useQueryClient();
  const toast = useToast();
  const make = useMutation<Sheet, Problem>({
    mutationFn: () =>
      ask(api.POST("/api/squads/{slug}/sheet", { params: { path: { slug } }, body: { day: place.day } })),
    onSuccess: (made) => {
      queries.setQueryData(sheetQuery(slug, place.day).queryKey, made);
      toast(`Version ${made.version} is given out.`);
    },
    onError: (problem) => toast(problem.message),
  });
  if (sheet.isError)
    return (
      <Message title="The sheet could not be loaded" action="Try again" onAction={() => sheet.refetch()}>
        {sheet.error.message}
      </Message>
    );
  const data = sheet.data;
  const copy = async (text: string, what: string) => {
    await navigator.clipboard.writeText(text);
    toast(`${what} is copied.`);
  };
  return (
    <>
      <MorningTabs place={place} />
      <div className="summary">
        <h1>
          <b>Sheet for the coach</b>, {longDay(place.day)}
        </h1>
        {data && (
          <div className="summary-end">
            <button
              type="button"
              className="text-button"
              onClick={() => copy(data.text, "The sheet as text")}
            >
              Copy as text
            </button>
            <button
              type="button"
              className="text-button"
              onClick={() => copy(window.location.href, "The link to this sheet")}
            >
              Copy the link
            </button>
            <button type="button" className="text-button" onClick={() => window.print()}>
              Print
            </button>
            <a
              className="text-button"
              href={`/api/squads/${slug}/sheet.pdf?day=${place.day}`}
              target="_blank"
              rel="noreferrer"
            >
              PDF
            </a>
            {place.may("make_calls") && (data.version === 0 || data.changes.length > 0) && (
              <Button size="sm" loading={make.isPending} onClick={() => make.mutate()}>
                {data.version === 0 ? "Give it out" : `Give out version ${data.version + 1}`}
              </Button>
            )}
          </div>
        )}
      </div>
      {!data ? <Skeleton height="360px" m="5" /> : <Paper place={place} sheet={data} />}
    </>
  );
}

/** What is given out: the day, what has changed since the last version, and everybody by group. */
function Paper({ place, sheet }: { place: Place; sheet: Sheet }) {
  const open = sheet.groups.flatMap((group) => group.lines).filter((line) => line.open);
  return (
    <article className="sheet" aria-label="The sheet">
      <header>
        <h2>
          {place.squad.name}, {longDay(sheet.day)}
        </h2>
        <p>{sheet.sessions.join(" · ") || "No session is planned."}</p>
        <p className="quiet">
          {sheet.version === 0
            ? "Not given out yet."
            : `Version ${sheet.version}, ${sheet.made_by}, ${
                sheet.made_at ? clockTime(sheet.made_at, place.squad.time_zone) : ""
              }.`}{" "}
          {open.length > 0 && (
            <span className="missing">
              {open.length === 1 ? `A call is open for ${open[0]?.name}` : `${open.length} calls are open`}
              {"; what is not called stands as it is known."}
            </span>
          )}
        </p>
      </header>
      {sheet.changes.length > 0 && (
        <section className="sheet-changes" aria-label="Changed since">
          <h3>Changed since version {sheet.version}</h3>
          <ul>
            {sheet.changes.map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
        </section>
      )}
      {sheet.groups
        .filter((group) => group.lines.length > 0)
        .map((group) => (
          <section key={group.code} className={`sheet-group ${group.code}`}>
            <h3>
              {group.name} <span>{group.lines.length}</span>
            </h3>
            <ul>
              {group.lines.map((line) => (
                <li key={line.athlete_id}>
                  <span className="figure">{line.number}</span>
                  <b>{line.name}</b>
                  <span className="quiet">{line.position}</span>
                  {line.open && <span className="missing">call open</span>}
                  {line.how && <p>{line.how}</p>}
                </li>
              ))}
            </ul>
          </section>
        ))}
      <footer className="quiet">
        Supports the coach’s and the staff’s judgement; what a clinician has said always stands. It is no
        diagnosis and predicts no injury.
      </footer>
    </article>
  );
}
