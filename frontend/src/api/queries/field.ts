/** What Field and Live read. */

import { queryOptions } from "@tanstack/react-query";
import { withCopy } from "../../offline/copies";
import { api, ask } from "../client";

/** A session as it is run; without a network as it was read last. */
export const fieldQuery = (slug: string, day: string, session: string | null) =>
  queryOptions({
    queryKey: [slug, "field", day, session],
    networkMode: "always",
    refetchInterval: 5000,
    queryFn: () =>
      withCopy(`field ${slug} ${day} ${session}`, () =>
        ask(
          api.GET("/api/squads/{slug}/field", {
            params: { path: { slug }, query: { day, ...(session ? { session } : {}) } },
          }),
        ),
      ),
  });

export const hubsQuery = (slug: string) =>
  queryOptions({
    queryKey: [slug, "hubs"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/hubs", { params: { path: { slug } } })),
  });
