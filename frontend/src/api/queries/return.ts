/** What Return reads. */

import { queryOptions } from "@tanstack/react-query";
import { api, ask } from "../client";

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

export const sidesQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "sides", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/sides", { params: { path: { slug }, query: { day } } })),
  });
