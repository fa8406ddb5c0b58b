/** What the screens read, by name. A key begins with the squad, so that one change can renew all of it. */

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { setClock } from "../offline/clock";
import { withCopy } from "../offline/copies";
import { keepFor } from "../offline/store";
import { api, ask, rememberToken, type WeekChanges } from "./client";

export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: async () => {
    const me = await withCopy("me", async () => {
      const fresh = await ask(api.GET("/api/me"));
      if (fresh.user_id !== null) await keepFor(fresh.user_id).catch(() => {});
      return fresh;
    });
    rememberToken(me.csrf_token);
    setClock(me.now);
    return me;
  },
  staleTime: Number.POSITIVE_INFINITY,
});

export const beginSquadQuery = queryOptions({
  queryKey: ["me", "begin squad"],
  queryFn: () => ask(api.GET("/api/squads/begin")),
});

export const plannedQuery = (slug: string, first: string, days: number) =>
  queryOptions({
    queryKey: [slug, "planned", first, days],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/sessions", { params: { path: { slug }, query: { day: first, days } } }),
      ),
    placeholderData: keepPreviousData,
  });

export const seasonQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "season", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/season", { params: { path: { slug }, query: { day } } })),
    placeholderData: keepPreviousData,
  });

export const weekQuery = (slug: string, day: string, channel: string | null) =>
  queryOptions({
    queryKey: [slug, "week", day, channel],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/week", {
          params: { path: { slug }, query: { day, ...(channel && { channel }) } },
        }),
      ),
    placeholderData: keepPreviousData,
  });

/** The week with other minutes, which nobody has saved. */
export const triedWeekQuery = (slug: string, day: string, channel: string | null, changes: WeekChanges) =>
  queryOptions({
    queryKey: [slug, "week", day, channel, "tried", changes],
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/week/tried", {
          params: { path: { slug } },
          body: { day, channel, ...changes },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });

export const proposalsQuery = (slug: string, day: string, edition: string, changes: WeekChanges) =>
  queryOptions({
    queryKey: [slug, "week proposals", day, edition, changes],
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/week/proposals", {
          params: { path: { slug } },
          body: { day, ...changes },
        }),
      ),
    retry: false,
  });

export const afterMatchQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "after match", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/after-match", { params: { path: { slug }, query: { day } } })),
  });

export const recoveringQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "week recovery", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/recovery", { params: { path: { slug }, query: { day } } })),
  });

export const weekSpellsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "week spells", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/spells", { params: { path: { slug }, query: { day } } })),
  });

export const feedsQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "feeds"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/week/feeds", { params: { path: { slug } } })),
  });

export const comparedQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "week compared", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/compared", { params: { path: { slug }, query: { day } } })),
  });

export const lighterQuery = (slug: string, day: string, school: "cut" | "share") =>
  queryOptions({
    queryKey: [slug, "lighter weeks", day, school],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/lighter", { params: { path: { slug }, query: { day, school } } })),
    placeholderData: keepPreviousData,
  });

export const spineQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "spine", day],
    queryFn: () =>
      withCopy(`spine ${slug}`, () =>
        ask(api.GET("/api/squads/{slug}/spine", { params: { path: { slug }, query: { day } } })),
      ),
    placeholderData: keepPreviousData,
  });

/** The morning on a channel; null is the main one. */
/** `known` reads a past morning with only what had been entered by then. */
export const morningQuery = (slug: string, day: string, channel: string | null, known = false) =>
  queryOptions({
    queryKey: [slug, "morning", day, { channel, known }],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/morning", { params: { path: { slug }, query: { day, channel, known } } }),
      ),
    placeholderData: (before, query) =>
      query?.queryKey[0] === slug && query.queryKey[2] === day ? before : undefined,
  });

export const evidenceQuery = (
  slug: string,
  day: string,
  athlete: number,
  channel: string | null,
  known = false,
) =>
  queryOptions({
    queryKey: [slug, "morning", day, { channel, athlete, known }],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/evidence", {
          params: { path: { slug, athlete_id: athlete }, query: { day, channel, known } },
        }),
      ),
  });

export const sessionQuery = (slug: string, day: string, id: string | null) =>
  queryOptions({
    queryKey: [slug, "session", id ?? day],
    queryFn: () =>
      withCopy(`session ${slug} ${id ?? ""}`, () =>
        id === null
          ? ask(api.GET("/api/squads/{slug}/sessions/latest", { params: { path: { slug }, query: { day } } }))
          : ask(
              api.GET("/api/squads/{slug}/sessions/{session_id}", {
                params: { path: { slug, session_id: id } },
              }),
            ),
      ),
  });

/** Who is in the squad on a day: names, and nothing of anybody's load or health. */
export const peopleQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "people", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/people", { params: { path: { slug }, query: { day } } })),
  });

export const limitsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "limits", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/limits", { params: { path: { slug }, query: { day } } })),
  });

export const channelsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "channels", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/channels", { params: { path: { slug }, query: { day } } })),
  });

export const squadCodeQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "code"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/code", { params: { path: { slug } } })),
  });

export const anchorsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "anchors", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/anchors", { params: { path: { slug }, query: { day } } })),
  });

export const workQuery = (slug: string, id: string) =>
  queryOptions({
    queryKey: [slug, "work", id],
    queryFn: () =>
      withCopy(`work ${slug} ${id}`, () =>
        ask(
          api.GET("/api/squads/{slug}/sessions/{session_id}/work", {
            params: { path: { slug, session_id: id } },
          }),
        ),
      ),
  });

/** Files and what came of them; asked for again while one is on its way. */
export const filesQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "files"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/files", { params: { path: { slug } } })),
    refetchInterval: (query) =>
      query.state.data?.imports.some((one) => one.state === "waiting" || one.state === "running")
        ? 700
        : false,
  });

export const recordingsQuery = (slug: string, id: string) =>
  queryOptions({
    queryKey: [slug, "recordings", id],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/sessions/{session_id}/recordings", {
          params: { path: { slug, session_id: id } },
        }),
      ),
  });

/** A session as it is run; without a network as it was read last. */
export const fieldQuery = (slug: string, day: string, session: string | null) =>
  queryOptions({
    queryKey: [slug, "field", day, session],
    networkMode: "always",
    refetchInterval: 5000,
    queryFn: () =>
      withCopy(`field ${slug} ${day} ${session}`, () =>
        ask(
          api.GET("/api/squads/{slug}/field", {
            params: { path: { slug }, query: { day, ...(session ? { session } : {}) } },
          }),
        ),
      ),
  });

export const hubsQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "hubs"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/hubs", { params: { path: { slug } } })),
  });

export const matchTermsQuery = (slug: string, id: string) =>
  queryOptions({
    queryKey: [slug, "recordings", id, "match terms"],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/sessions/{session_id}/match-terms", {
          params: { path: { slug, session_id: id } },
        }),
      ),
  });

export const drillsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "recordings", "drills", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/drills", { params: { path: { slug }, query: { day } } })),
  });

export const heatQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "session", "heat", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/heat", { params: { path: { slug }, query: { day } } })),
  });

export const tracesQuery = (slug: string, id: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "recordings", id, athlete],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/sessions/{session_id}/traces/{athlete_id}", {
          params: { path: { slug, session_id: id, athlete_id: athlete } },
        }),
      ),
  });

export const ownQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "own"],
    queryFn: () =>
      withCopy(`own ${slug}`, () => ask(api.GET("/api/squads/{slug}/own", { params: { path: { slug } } }))),
    networkMode: "always",
  });

/** Everyone's reports; asked for again by itself, so that a complaint is seen at once. */
export const reportsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "reports", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/reports", { params: { path: { slug }, query: { day } } })),
    refetchInterval: 20_000,
  });

export const formsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "forms", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/forms", { params: { path: { slug }, query: { day } } })),
  });

export const accountsQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "accounts"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/accounts", { params: { path: { slug } } })),
  });

export const knownPeopleQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "accounts", "known"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/members/known", { params: { path: { slug } } })),
  });

export const accountQuery = queryOptions({
  queryKey: ["account"],
  queryFn: () => ask(api.GET("/api/account")),
});

export const testsQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "tests"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/tests", { params: { path: { slug } } })),
  });

export const testingDayQuery = (slug: string, code: string, day: string) =>
  queryOptions({
    queryKey: [slug, "tests", code, day],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/tests/{code}/day", { params: { path: { slug, code }, query: { day } } }),
      ),
  });

export const testSeriesQuery = (slug: string, code: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "tests", code, "series", athlete],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/tests/{code}/athletes/{athlete_id}", {
          params: { path: { slug, code, athlete_id: athlete } },
        }),
      ),
  });

export const viewsQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "views"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/views", { params: { path: { slug } } })),
  });

export const sheetQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "morning", "sheet", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/sheet", { params: { path: { slug }, query: { day } } })),
  });

export const reviewQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "morning", "review", day.slice(0, 7)],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/calls-review", { params: { path: { slug }, query: { day } } })),
  });

export const noticesQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "notices", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/notices", { params: { path: { slug }, query: { day } } })),
  });

export const wornRatesQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "notices", "worn", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/notices/worn-rates", { params: { path: { slug }, query: { day } } })),
  });

export const methodQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "method"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/method", { params: { path: { slug } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const timelineQuery = (slug: string, day: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "timeline", athlete, day],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/timeline", {
          params: { path: { slug, athlete_id: athlete }, query: { day } },
        }),
      ),
  });

export const noticedQuery = (slug: string, day: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "noticed", athlete, day],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/noticed", {
          params: { path: { slug, athlete_id: athlete }, query: { day } },
        }),
      ),
  });

export const positionQuery = (slug: string, day: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "position", athlete, day],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/position", {
          params: { path: { slug, athlete_id: athlete }, query: { day } },
        }),
      ),
  });

export const arithmeticQuery = (slug: string, day: string, athlete: number, figure: string) =>
  queryOptions({
    queryKey: [slug, "arithmetic", athlete, day, figure],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/arithmetic", {
          params: { path: { slug, athlete_id: athlete }, query: { day, figure } },
        }),
      ),
  });

export const ownTodayQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "own", "today"],
    queryFn: () =>
      withCopy(`own today ${slug}`, () =>
        ask(api.GET("/api/squads/{slug}/own/today", { params: { path: { slug } } })),
      ),
  });

export const notesQuery = (slug: string, day: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "notes", athlete, day],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/notes", {
          params: { path: { slug, athlete_id: athlete }, query: { day } },
        }),
      ),
  });

export const returnsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "return", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/return", { params: { path: { slug }, query: { day } } })),
  });

export const returnQuery = (slug: string, day: string, plan: string) =>
  queryOptions({
    queryKey: [slug, "return", plan, day],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/return/{plan_id}", {
          params: { path: { slug, plan_id: plan }, query: { day } },
        }),
      ),
  });

export const returnTemplatesQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "return templates"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/return/templates", { params: { path: { slug } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });

export const casesQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "return", "cases", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/return/cases", { params: { path: { slug }, query: { day } } })),
  });
