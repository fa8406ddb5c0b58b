import { Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Grid, Problem } from "../../api/client";
import { spineQuery } from "../../api/queries/frame";
import { sessionQuery } from "../../api/queries/session";
import { channelsQuery } from "../../api/queries/squad";
import { clockTime, mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { screen } from "../../frame/screen";
import { useToast } from "../../frame/toast";
import { Select } from "../../kit/fields";
import { CounterPad } from "./CounterPad";
import { PartsPlan } from "./drills/PartsPlan";
import { EntryGrid } from "./EntryGrid";
import { LiftingSheet } from "./LiftingSheet";
import { SessionPlaces } from "./SessionPlaces";
import { SEGMENTS, WorkGrid, ZONES } from "./WorkGrid";
import "./session.css";

const RecordingsView = screen(() => import("./RecordingsView"));
const MatchTerms = screen(() => import("./match/MatchTerms"));

export default function SessionScreen({ place }: { place: Place }) {
  const id = place.get("session");
  const query = sessionQuery(place.squad.slug, place.day, id);
  const session = useQuery(query);
  if (session.isError) {
    const none = session.error instanceof Problem && session.error.status === 404;
    return (
      <>
        <SessionPlaces place={place} />
        <Message
          title={none ? "No session to show" : "The session could not be loaded"}
          action={none ? "Make one in the calendar" : "Try again"}
          onAction={() => (none ? place.go("/session/calendar", { session: "new" }) : session.refetch())}
        >
          {session.error.message}
        </Message>
      </>
    );
  }
  if (!session.data) return <GridLoading />;
  const grid = session.data;
  const show = shownOf(place);
  const unrated = grid.rows.filter((row) => row.state === "estimated" || row.state === "missing");
  const title = grid.opponent ? `Match against ${grid.opponent}, ${grid.venue}` : grid.title;
  return (
    <>
      <SessionPlaces place={place} />
      <div className="summary">
        <h1>
          <b>{title}</b>, {mediumDay(grid.day)}, {clockTime(grid.starts_at, place.squad.time_zone)}.{" "}
          {grid.done
            ? unrated.length === 0
              ? "Every rating is in."
              : unrated.length === 1
                ? "1 rating is missing."
                : `${unrated.length} ratings are missing.`
            : "Planned."}
        </h1>
        <div className="summary-end">
          <PlaceChoice place={place} grid={grid} />
          <SameDay place={place} day={grid.day} shown={grid.id} />
          <span>
            plan {say.short(grid.planned_minutes)} min at {say.short(grid.planned_effort)}
          </span>
        </div>
      </div>
      {!id && grid.day !== place.day && <NoneThatDay place={place} shown={grid.day} />}
      <SessionTabs place={place} />
      {(show === "ratings" || (show === "segments" && !grid.done && !mayPlanParts(place, grid))) && (
        <div className="segments">
          {grid.segments.map((segment) => (
            <span key={segment.name}>
              {segment.name} {say.short(segment.minutes)} min
            </span>
          ))}
        </div>
      )}
      {show === "ratings" && <EntryGrid key={grid.id} place={place} grid={grid} queryKey={query.queryKey} />}
      {show === "counts" && <CounterPad key={grid.id} place={place} session={grid.id} />}
      {show === "segments" && mayPlanParts(place, grid) && (
        <PartsPlan key={`${grid.id} plan`} place={place} grid={grid} />
      )}
      {show === "segments" && grid.done && (
        <WorkGrid key={`${grid.id} segments`} place={place} session={grid.id} kind={SEGMENTS} />
      )}
      {show === "zones" && <WorkGrid key={`${grid.id} zones`} place={place} session={grid.id} kind={ZONES} />}
      {show === "lifting" && <LiftingSheet key={grid.id} place={place} session={grid.id} />}
      {show === "recordings" && <RecordingsView key={grid.id} place={place} grid={grid} />}
      {show === "match" && <MatchTerms key={grid.id} place={place} session={grid.id} />}
    </>
  );
}

/** Parts of what is still to come are planned here; of what was done they can be given where there are none. */
const mayPlanParts = (place: Place, grid: Grid) =>
  place.may("plan") && (!grid.done || grid.segments.length === 0);

/** Where a day was asked for that has no session: what is shown in its place, and the way to make one. */
function NoneThatDay({ place, shown }: { place: Place; shown: string }) {
  const spine = useQuery(spineQuery(place.squad.slug, place.day));
  // Before the first session of the day begins, the last one is what there is to enter.
  if (spine.data?.days.find((one) => one.day === place.day)?.sessions.length !== 0) return null;
  return (
    <p className="none-that-day" role="status">
      There is no session on {mediumDay(place.day)} yet; this is the last one before, on {mediumDay(shown)}.{" "}
      {place.may("edit_entries") && (
        <button
          type="button"
          className="text-button"
          onClick={() => place.go("/session/calendar", { session: "new" })}
        >
          Make one on {mediumDay(place.day)}
        </button>
      )}
    </p>
  );
}

const TABS = [
  { code: "ratings", name: "Ratings" },
  { code: "segments", name: "Parts" },
  { code: "counts", name: "Counts" },
  { code: "lifting", name: "Lifting" },
  { code: "zones", name: "Zones" },
  { code: "recordings", name: "Recordings" },
  { code: "match", name: "In match terms" },
] as const;

function shownOf(place: Place): (typeof TABS)[number]["code"] {
  return TABS.find((tab) => tab.code === place.get("show"))?.code ?? "ratings";
}

/** The kinds of entry of a session, side by side; which one is shown stands in the address. */
function SessionTabs({ place }: { place: Place }) {
  const shown = shownOf(place);
  return (
    <nav className="tabs" aria-label="Entries of the session">
      {TABS.filter((tab) => tab.code !== "recordings" || place.may("read_anchors")).map((tab) => (
        <button
          key={tab.code}
          type="button"
          aria-current={tab.code === shown ? "page" : undefined}
          onClick={() => place.set({ show: tab.code === "ratings" ? null : tab.code })}
        >
          {tab.name}
        </button>
      ))}
    </nav>
  );
}

/** Where, or in what conditions, the session was; only for squads that tell places apart. */
function PlaceChoice({ place, grid }: { place: Place; grid: Grid }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const channels = useQuery(channelsQuery(slug, place.day));
  const set = useMutation<unknown, Problem, string | null>({
    mutationFn: (name) =>
      ask(
        api.PUT("/api/squads/{slug}/sessions/{session_id}/place", {
          params: { path: { slug, session_id: grid.id } },
          body: { place: name },
        }),
      ),
    onSuccess: (_done, name) => {
      toast(name ? `The session was at: ${name}.` : "The session was at the usual place.", () =>
        set.mutate(grid.place),
      );
      askAgain(queries, [slug]);
    },
    onError: (problem) => toast(problem.message),
  });
  const names = new Set(channels.data?.places.map((one) => one.name));
  if (grid.place) names.add(grid.place);
  if (names.size === 0) return null;
  return (
    <span style={{ width: 140 }}>
      <Select
        size="xs"
        label="Place of the session"
        value={grid.place ?? ""}
        disabled={!place.may("edit_entries")}
        onChange={(name) => set.mutate(name || null)}
      >
        <option value="">usual place</option>
        {[...names].map((name) => (
          <option key={name}>{name}</option>
        ))}
      </Select>
    </span>
  );
}

/** The sessions around the one shown, as links. */
function SameDay({ place, day, shown }: { place: Place; day: string; shown: string }) {
  const spine = useQuery(spineQuery(place.squad.slug, place.day));
  const days =
    spine.data?.days.filter((one) => one.day <= place.day && one.sessions.length > 0).slice(-2) ?? [];
  const near = days.flatMap((one) => one.sessions.map((session) => ({ ...session, day: one.day })));
  return (
    <nav aria-label="Sessions near this one" style={{ display: "flex", gap: 12 }}>
      {near.map((session) =>
        session.id === shown && session.day === day ? (
          <b key={session.id} style={{ color: "var(--ink)" }}>
            {session.opponent ?? session.title}
          </b>
        ) : (
          <Link
            key={session.id}
            className="text-button"
            to={place.to("/session", { session: session.id, show: place.get("show") })}
          >
            {mediumDay(session.day).slice(0, 3)} {session.opponent ?? session.title}
          </Link>
        ),
      )}
    </nav>
  );
}

function GridLoading() {
  return (
    <div role="status" aria-label="Loading the session" style={{ padding: "20px var(--margin)" }}>
      <Skeleton height="24px" width="420px" mb="6" />
      {["a", "b", "c", "d", "e", "f", "g", "h"].map((row) => (
        <Skeleton key={row} height="30px" mb="2" maxWidth="1100px" />
      ))}
    </div>
  );
}
