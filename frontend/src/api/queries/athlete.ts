/** What is read of one athlete. */

import { queryOptions } from "@tanstack/react-query";
import { api, ask } from "../client";

export const anchorsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "anchors", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/anchors", { params: { path: { slug }, query: { day } } })),
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
