import { Button, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { AfterMatch as After, AfterRow } from "../../api/client";
import { api, ask } from "../../api/client";
import { afterMatchQuery } from "../../api/queries/week";
import { shortDay } from "../../frame/days";
import { useKeys } from "../../frame/keys";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Checks, Labelled } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { afterGroups, positionsOf } from "./afterStates";

/** The day after a match: who recovers, who tops up with what, and both planned at once. */
export function AfterMatch({ place }: { place: Place }) {
  const { data } = useQuery(afterMatchQuery(place.squad.slug, place.day));
  if (!data) return null;
  return <Played key={`${data.match} ${data.on}`} place={place} after={data} />;
}

function Played({ place, after }: { place: Place; after: After }) {
  const groups = afterGroups(after.rows);
  return (
    <section aria-label="After the match" className="week-after">
      <h2>
        {shortDay(after.on)}, after {after.match.replace(/^Match/, "the match")}
      </h2>
      {groups.map((group) => (
        <details key={group.does} open={group.does === "top_up" || group.does === "recover"}>
          <summary>
            {group.title} <span className="quiet">{group.rows.length}</span>
          </summary>
          <dl className="week-lines">
            {group.rows.map((row) => (
              <Row key={row.athlete_id} row={row} />
            ))}
          </dl>
        </details>
      ))}
      <Forms place={place} rows={after.rows} />
      <p className="quiet">{after.reference}</p>
      <Plan place={place} after={after} />
    </section>
  );
}

function Row({ row }: { row: AfterRow }) {
  return (
    <div>
      <dt>
        {row.name}
        <span className="quiet"> {row.played === null ? "" : `${say.short(row.played)} min`}</span>
      </dt>
      <dd>{row.words}</dd>
    </div>
  );
}

/** Positions that top up with quick work in place, such as goalkeepers; the others run. */
function Forms({ place, rows }: { place: Place; rows: AfterRow[] }) {
  const { slug } = place.squad;
  const change = useDoing([slug], (body: { position: string; form: AfterRow["form"] }) =>
    ask(api.PUT("/api/squads/{slug}/week/after-match/form", { params: { path: { slug } }, body })),
  );
  const { all, inPlace } = positionsOf(rows);
  if (!place.may("plan") || all.length === 0) return null;
  return (
    <details>
      <summary>Who tops up in place</summary>
      <Checks
        all={all}
        chosen={inPlace}
        onChange={(chosen) => {
          const position = all.find((one) => chosen.includes(one) !== inPlace.includes(one));
          if (position) change.mutate({ position, form: chosen.includes(position) ? "in_place" : "runs" });
        }}
      />
    </details>
  );
}

/** Recovery and top-ups go into the plan with one press, or one key; taken back as a whole. */
function Plan({ place, after }: { place: Place; after: After }) {
  const { slug } = place.squad;
  const toast = useToast();
  const [at, setAt] = useState(after.at);
  const path = { params: { path: { slug } } };
  const back = useDoing([slug], (sessions: string[]) =>
    ask(api.POST("/api/squads/{slug}/week/after-match/take-back", { ...path, body: { sessions } })),
  );
  const chosen = after.rows.filter((row) => row.minutes > 0).map((row) => row.athlete_id);
  const plan = useDoing(
    [slug],
    () =>
      ask(
        api.POST("/api/squads/{slug}/week/after-match", {
          ...path,
          body: { day: place.day, at, athletes: chosen },
        }),
      ),
    ({ sessions, on }) => toast(`${shortDay(on)} is planned so.`, () => back.mutate(sessions)),
  );
  const may = place.may("plan") && after.may && !after.planned && chosen.length > 0;
  useKeys({ t: () => plan.mutate() }, may && !plan.isPending);
  if (after.planned) return <p className="quiet">This is in the plan.</p>;
  if (!may) return null;
  return (
    <div className="form-actions">
      <Labelled label="At">
        <Input type="time" size="xs" value={at} onChange={(event) => setAt(event.target.value)} />
      </Labelled>
      <Button size="sm" variant="outline" loading={plan.isPending} onClick={() => plan.mutate()}>
        Plan recovery and top-ups <kbd>t</kbd>
      </Button>
    </div>
  );
}
