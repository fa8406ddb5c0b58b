/** What Squad reads: limits, units, files, accounts. */

import { queryOptions } from "@tanstack/react-query";
import { api, ask } from "../client";

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
