import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Drill, type Grid, type Week } from "../../api/client";
import { drillsQuery, sessionQuery } from "../../api/queries/session";
import { shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Select } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { DrillList } from "../session/drills/DrillList";
import { linesOf, partsOf, withDrill } from "../session/drills/partsPlan";

/** The drills the squad knows, to be put into a session of the week as a part. */
export function WeekDrills({ place, week }: { place: Place; week: Week }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="week-after" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Drills</summary>
      {open && <Opened place={place} week={week} />}
    </details>
  );
}

function Opened({ place, week }: { place: Place; week: Week }) {
  const { slug } = place.squad;
  const { data } = useQuery(drillsQuery(slug, place.day));
  const coming = week.days.flatMap(({ day, sessions }) =>
    sessions.filter((one) => !one.done && one.kind !== "match").map((one) => ({ ...one, on: day })),
  );
  const [chosen, setChosen] = useState((coming.find((one) => one.kind !== "gym") ?? coming[0])?.id ?? "");
  const at = coming.find((one) => one.id === chosen);
  const put = usePut(slug);
  if (!data) return <p className="quiet">Looking at what was done …</p>;
  if (data.drills.length === 0)
    return <p className="quiet">Parts of sessions that were done stand here. None has any yet.</p>;
  return (
    <>
      {place.may("plan") && coming.length > 0 && (
        <Select size="xs" label="Into which session" value={chosen} onChange={setChosen}>
          {coming.map((one) => (
            <option key={one.id} value={one.id}>
              into {shortDay(one.on)} {one.title}
            </option>
          ))}
        </Select>
      )}
      <DrillList
        drills={data.drills}
        match={data.match}
        headed={false}
        {...(place.may("plan") && at && { onPut: (drill: Drill) => put(at.id, drill) })}
      />
    </>
  );
}

/** Puts a drill behind the other parts of a session; taken back as long as nobody changed them since. */
function usePut(slug: string) {
  const queries = useQueryClient();
  const toast = useToast();
  const set = (session_id: string, parts: Grid["segments"], version: number) =>
    ask(
      api.PUT("/api/squads/{slug}/sessions/{session_id}/parts", {
        params: { path: { slug, session_id } },
        body: { parts, version },
      }),
    );
  const back = useDoing([slug], (was: { id: string; segments: Grid["segments"]; version: number }) =>
    set(was.id, was.segments, was.version),
  );
  const put = useDoing(
    [slug],
    async ({ id, drill }: { id: string; drill: Drill }) => {
      const grid = await queries.fetchQuery({ ...sessionQuery(slug, "", id), staleTime: 0 });
      const lines = withDrill(linesOf(grid.segments), drill, "new");
      const kept = await set(id, partsOf(lines), grid.version);
      return { id, segments: grid.segments, version: kept.version, title: grid.title };
    },
    (was, { drill }) => toast(`${drill.name} is a part of ${was.title}.`, () => back.mutate(was)),
  );
  return (id: string, drill: Drill) => put.mutate({ id, drill });
}
