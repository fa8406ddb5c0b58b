import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ask, type Problem, type SessionWork, type WorkChange } from "../../api/client";
import { workQuery } from "../../api/queries";
import type { Place } from "../../frame/place";

/** Writes documents of work. What was refused is told by the problem; nothing typed is lost by it. */
export function useWork(place: Place, session: string) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  return useMutation<SessionWork, Problem, WorkChange[]>({
    mutationFn: (changes) =>
      ask(
        api.PUT("/api/squads/{slug}/sessions/{session_id}/work", {
          params: { path: { slug, session_id: session } },
          body: { changes },
        }),
      ),
    onSuccess: (work) => {
      queries.setQueryData(workQuery(slug, session).queryKey, work);
      queries.invalidateQueries({ queryKey: [slug, "morning"] });
    },
    // A dropped line of the network is tried again by itself; what the server refused is not.
    retry: (count, problem) => problem.status === 0 && count < 5,
    scope: { id: `work ${session}` },
  });
}
