/** What every screen reads: who is signed in, the squad’s days and people, the method. A key begins with the squad, so that one change can renew all of it. */

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { setClock } from "../../offline/clock";
import { withCopy } from "../../offline/copies";
import { keepFor } from "../../offline/store";
import { api, ask, rememberToken } from "../client";

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

/** Who is in the squad on a day: names, and nothing of anybody's load or health. */
export const peopleQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "people", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/people", { params: { path: { slug }, query: { day } } })),
  });

export const accountQuery = queryOptions({
  queryKey: ["account"],
  queryFn: () => ask(api.GET("/api/account")),
});

export const methodQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "method"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/method", { params: { path: { slug } } })),
    staleTime: Number.POSITIVE_INFINITY,
  });
