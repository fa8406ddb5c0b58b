/** What is read of sessions: entries, work, recordings, match terms. */

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { withCopy } from "../../offline/copies";
import { api, ask } from "../client";

export const plannedQuery = (slug: string, first: string, days: number) =>
  queryOptions({
    queryKey: [slug, "planned", first, days],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/sessions", { params: { path: { slug }, query: { day: first, days } } }),
      ),
    placeholderData: keepPreviousData,
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

export const mixQuery = (slug: string, grades: number[], aim: number) => ({
  queryKey: ["mix", slug, grades, aim],
  queryFn: () =>
    ask(api.POST("/api/squads/{slug}/sessions/mix", { params: { path: { slug } }, body: { grades, aim } })),
  staleTime: Number.POSITIVE_INFINITY,
});
