import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type SideRow } from "../../api/client";
import { sidesQuery } from "../../api/queries/return";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Loaded } from "../../kit/Loaded";
import { useDoing } from "../../kit/useDoing";
import { SideWalk } from "./SideWalk";

/** Whose sides differ, and the walk that finds out why: range by joint, strength by joint, use. */
export function SidesPanel({ place }: { place: Place }) {
  const sides = useQuery(sidesQuery(place.squad.slug, place.day));
  return (
    <>
      <h2>Sides that differ</h2>
      <Loaded query={sides} failed="Sides could not be loaded">
        {({ rows }) => (
          <>
            {rows.length === 0 && (
              <p className="quiet">
                Of nobody three tests running had the same side stronger by more than 10 % and the own norm.
              </p>
            )}
            {rows.map((row) => (
              <Row key={`${row.athlete_id} ${row.test}`} place={place} row={row} />
            ))}
          </>
        )}
      </Loaded>
      <p>
        <button type="button" className="text-button" onClick={() => place.set({ begin: null })}>
          Close
        </button>
      </p>
    </>
  );
}

function Row({ place, row }: { place: Place; row: SideRow }) {
  const { slug } = place.squad;
  const toast = useToast();
  const [open, setOpen] = useState(false);
  const may = place.may("enter_reports");
  const begin = useDoing(
    [slug],
    () =>
      ask(
        api.POST("/api/squads/{slug}/sides", {
          params: { path: { slug } },
          body: { athlete_id: row.athlete_id, test: row.test },
        }),
      ),
    () => setOpen(true),
  );
  const end = useDoing(
    [slug],
    ({ check, ended }: { check: string; ended: boolean }) =>
      ask(
        api.POST("/api/squads/{slug}/sides/{check_id}/end", {
          params: { path: { slug, check_id: check } },
          body: { ended },
        }),
      ),
    (_, { check, ended }) => ended && toast(`${row.name}: over.`, () => end.mutate({ check, ended: false })),
  );
  const { check } = row;
  return (
    <section className="side-row" aria-label={`${row.name}, ${row.test_name}`}>
      <b>{row.name}</b> <span className="quiet">{row.test_name}</span>
      {row.percent !== null && (
        <p>
          The {row.stronger} side {Math.round(row.percent)} % stronger
          {row.tested && <span className="quiet">, {mediumDay(row.tested)}</span>}
        </p>
      )}
      <p className={row.comes ? "plum" : "quiet"}>{row.said}</p>
      {row.how && <p>{planSaid(row)}</p>}
      {row.over && <p>Even again: within 10 %, or the own norm.</p>}
      {may && (
        <p>
          {check === null ? (
            <button type="button" className="text-button" onClick={() => begin.mutate()}>
              Look into it
            </button>
          ) : (
            <>
              {!open && (
                <button type="button" className="text-button" onClick={() => setOpen(true)}>
                  Go on with it
                </button>
              )}{" "}
              <button
                type="button"
                className="text-button"
                onClick={() => end.mutate({ check, ended: true })}
              >
                {row.over ? "It is over" : "End it all the same"}
              </button>
            </>
          )}
        </p>
      )}
      {open && check !== null && (
        <SideWalk key={row.version} place={place} row={row} check={check} onDone={() => setOpen(false)} />
      )}
    </section>
  );
}

const PLANS = {
  first: "the weaker side first",
  sets: "added sets on the weaker side",
  matched: "as many repetitions as the weaker side can",
} as const;

const planSaid = (row: SideRow) =>
  `Plan: ${row.how ? PLANS[row.how] : ""}${row.sets ? ` (${row.sets})` : ""}${
    row.retest_on ? `; tested again on ${mediumDay(row.retest_on)}` : ""
  }.`;
