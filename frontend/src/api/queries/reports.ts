/** What is read of reports. */

import { queryOptions } from "@tanstack/react-query";
import { api, ask } from "../client";

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
