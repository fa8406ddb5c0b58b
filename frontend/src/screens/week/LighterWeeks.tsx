import { Button } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type LighterDue, type LighterLine, type LighterStanding } from "../../api/client";
import { type LighterHow, lighterQuery } from "../../api/queries/week";
import { shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Select } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";

/** Lighter weeks: whose is due and by which signs, line by line; whose stands; what came of the last ones. */
export function LighterWeeks({ place }: { place: Place }) {
  const [how, setHow] = useState<LighterHow>({ school: "cut", fewer: false });
  const { data } = useQuery(lighterQuery(place.squad.slug, place.day, how));
  if (!data || data.due.length + data.standing.length + data.back.length === 0) return null;
  return (
    <section aria-label="Lighter weeks" className="week-after">
      <h2>Lighter weeks</h2>
      {data.standing.map((one) => (
        <Stands key={one.id} place={place} one={one} />
      ))}
      {data.due.length > 0 && (
        <>
          <Select
            size="xs"
            label="What is cut"
            value={how.school}
            onChange={(to) => setHow({ ...how, school: to as LighterHow["school"] })}
          >
            <option value="cut">fewer sets, less weight, shorter sessions</option>
            <option value="share">half of the maximum, moved fast</option>
          </Select>
          <label className="week-fewer">
            <input
              type="checkbox"
              checked={how.fewer}
              onChange={(event) => setHow({ ...how, fewer: event.target.checked })}
            />{" "}
            In fewer days, the gym’s first
          </label>
          {data.due
            .filter((one) => one.by_signs)
            .map((one) => (
              <Proposed key={one.athlete_id} place={place} one={one} how={how} />
            ))}
          <Late place={place} due={data.due.filter((one) => !one.by_signs)} how={how} />
        </>
      )}
      {data.back.map((one) => (
        <p key={`${one.athlete_id} ${one.first}`} className="quiet">
          <b>{one.name}</b>, lighter from {shortDay(one.first)}: {one.said}
        </p>
      ))}
    </section>
  );
}

/** Those for whom nothing speaks but that the last one is long ago, together: of many it is the squad's to have one. */
function Late({ place, due, how }: { place: Place; due: LighterDue[]; how: LighterHow }) {
  if (due.length === 0) return null;
  return (
    <details>
      <summary>
        {due.length === 1 ? "1 person" : `${due.length} people`}{" "}
        <span className="quiet">without a sign, but the last one is long ago</span>
      </summary>
      {due.map((one) => (
        <Proposed key={one.athlete_id} place={place} one={one} how={how} />
      ))}
    </details>
  );
}

function Proposed({ place, one, how }: { place: Place; one: LighterDue; how: LighterHow }) {
  const { slug } = place.squad;
  const toast = useToast();
  const back = useTakeBack(place);
  const accept = useDoing(
    [slug],
    () =>
      ask(
        api.POST("/api/squads/{slug}/week/lighter", {
          params: { path: { slug } },
          body: { day: place.day, athlete_id: one.athlete_id, ...how },
        }),
      ),
    ({ id }) => toast(`${one.name} has a lighter week.`, () => back.mutate(id)),
  );
  return (
    <details>
      <summary>
        {one.name} <span className="quiet">{one.signs}</span>
      </summary>
      {one.last && <p className="quiet">{one.last}</p>}
      {one.lines.length === 0 ? (
        <p className="quiet">Nothing is planned in these seven days that could be made lighter.</p>
      ) : (
        <Lines lines={one.lines} />
      )}
      {place.may("plan") && place.day >= place.squad.today && one.lines.length > 0 && (
        <Button size="xs" variant="outline" loading={accept.isPending} onClick={() => accept.mutate()}>
          Plan it for {one.name}
        </Button>
      )}
    </details>
  );
}

function Stands({ place, one }: { place: Place; one: LighterStanding }) {
  const back = useTakeBack(place);
  return (
    <details>
      <summary>
        {one.name}{" "}
        <span className="quiet">
          lighter from {shortDay(one.first)} to {shortDay(one.last)}
        </span>
      </summary>
      <Lines lines={one.lines} />
      {place.may("plan") && (
        <button type="button" className="text-button" onClick={() => back.mutate(one.id)}>
          Take it back
        </button>
      )}
    </details>
  );
}

function Lines({ lines }: { lines: LighterLine[] }) {
  return (
    <dl className="week-lines">
      {lines.map((line) => (
        <div key={line.session_id}>
          <dt>
            {shortDay(line.day)} <span className="quiet">{line.title}</span>
          </dt>
          <dd>
            {line.said}
            {line.lifts.map((lift) => (
              <div key={lift}>{lift}</div>
            ))}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function useTakeBack(place: Place) {
  const { slug } = place.squad;
  return useDoing([slug], (week_id: string) =>
    ask(
      api.POST("/api/squads/{slug}/week/lighter/{week_id}/take-back", {
        params: { path: { slug, week_id } },
      }),
    ),
  );
}
