/** What Morning reads: lanes, evidence, sheet, calls, notices. */

import { queryOptions } from "@tanstack/react-query";
import { api, ask } from "../client";

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
