/** What the screens read, by name. A key begins with the squad, so that one change can renew all of it. */

import { keepPreviousData, queryOptions } from "@tanstack/react-query";
import { api, ask, rememberToken } from "./client";

export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: async () => {
    const me = await ask(api.GET("/api/me"));
    rememberToken(me.csrf_token);
    return me;
  },
  staleTime: Number.POSITIVE_INFINITY,
});

export const spineQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "spine", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/spine", { params: { path: { slug }, query: { day } } })),
    placeholderData: keepPreviousData,
  });

export const morningQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "morning", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/morning", { params: { path: { slug }, query: { day } } })),
  });

export const evidenceQuery = (slug: string, day: string, athlete: number) =>
  queryOptions({
    queryKey: [slug, "morning", day, athlete],
    queryFn: () =>
      ask(
        api.GET("/api/squads/{slug}/athletes/{athlete_id}/evidence", {
          params: { path: { slug, athlete_id: athlete }, query: { day } },
        }),
      ),
  });

export const sessionQuery = (slug: string, day: string, id: string | null) =>
  queryOptions({
    queryKey: [slug, "session", id ?? day],
    queryFn: () =>
      id === null
        ? ask(api.GET("/api/squads/{slug}/sessions/latest", { params: { path: { slug }, query: { day } } }))
        : ask(
            api.GET("/api/squads/{slug}/sessions/{session_id}", {
              params: { path: { slug, session_id: id } },
            }),
          ),
  });

export const limitsQuery = (slug: string, day: string) =>
  queryOptions({
    queryKey: [slug, "limits", day],
    queryFn: () => ask(api.GET("/api/squads/{slug}/limits", { params: { path: { slug }, query: { day } } })),
  });
