/** What Week reads. */

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, ask, type FitAsked, type WeekChanges } from "../client";

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

export const weekUpkeepQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "week upkeep", day],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/upkeep", { params: { path: { slug }, query: { day } } })),
  });

export const templatesQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "templates"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/week/templates", { params: { path: { slug } } })),
  });

/** A template held against whoever gets it, from a week on. */
export const templateFitQuery = (slug: string, template_id: string, body: FitAsked) =>
  queryOptions({
    queryKey: [slug, "templates", template_id, body],
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/week/templates/{template_id}/fit", {
          params: { path: { slug, template_id } },
          body,
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
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

/** What is cut in a lighter week, and whether it goes without a day. */
export interface LighterHow {
  school: "cut" | "share";
  fewer: boolean;
}

export const lighterQuery = (slug: string, day: string, how: LighterHow) =>
  queryOptions({
    queryKey: [slug, "lighter weeks", day, how],
    queryFn: () =>
      ask(api.GET("/api/squads/{slug}/week/lighter", { params: { path: { slug }, query: { day, ...how } } })),
    placeholderData: keepPreviousData,
  });
