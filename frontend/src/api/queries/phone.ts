/** What athletes read of themselves. */

import { queryOptions } from "@tanstack/react-query";
import { withCopy } from "../../offline/copies";
import { api, ask } from "../client";

export const ownQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "own"],
    queryFn: () =>
      withCopy(`own ${slug}`, () => ask(api.GET("/api/squads/{slug}/own", { params: { path: { slug } } }))),
    networkMode: "always",
  });

export const ownTodayQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "own", "today"],
    queryFn: () =>
      withCopy(`own today ${slug}`, () =>
        ask(api.GET("/api/squads/{slug}/own/today", { params: { path: { slug } } })),
      ),
  });
