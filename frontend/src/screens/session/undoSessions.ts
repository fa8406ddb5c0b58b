import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type SessionPlan } from "../../api/client";
import { useToast } from "../../frame/toast";

/** Takes back what was just done to sessions; what somebody has changed since stays, and is said. */
export function useUndo(slug: string) {
  const queries = useQueryClient();
  const toast = useToast();
  const after = {
    onSettled: () => askAgain(queries, [slug]),
    onError: (problem: Problem) => toast(problem.message),
  };
  const change = useMutation<unknown, Problem, SessionPlan[]>({
    mutationFn: ([session]) =>
      session
        ? ask(
            api.POST("/api/squads/{slug}/sessions/{session_id}/take-back", {
              params: { path: { slug, session_id: session.id } },
              body: { version: session.version },
            }),
          )
        : Promise.resolve(),
    ...after,
  });
  const made = useMutation<unknown, Problem, SessionPlan[]>({
    mutationFn: async (sessions) => {
      // One after the other: each waits for the squad.
      for (const { id, version } of sessions) {
        const params = { path: { slug, session_id: id }, query: { version } };
        await ask(api.DELETE("/api/squads/{slug}/sessions/{session_id}", { params }));
      }
    },
    ...after,
  });
  return { change: change.mutate, made: made.mutate };
}
