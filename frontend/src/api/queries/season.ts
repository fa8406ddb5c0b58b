/** What Season reads. */

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, ask } from "../client";

export const seasonQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "season", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/season", { params: { path: { slug }, query: { day } } })),
    placeholderData: keepPreviousData,
  });
