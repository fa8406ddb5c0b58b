import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type PlannedSession, type Problem, type SessionPlan } from "../../api/client";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useUndo } from "./undoSessions";

interface Move {
  session: PlannedSession;
  day: string;
}

/** Moves a session to another day at the same time, with what was entered; said afterwards, with the way back. */
export function useMoveSession(place: Place) {
  const { slug } = place.squad;
  const queries = useQueryClient();
  const toast = useToast();
  const undo = useUndo(slug);
  return useMutation<SessionPlan, Problem, Move>({
    mutationFn: ({ session, day }) => {
      const { id, done: _done, called_off: _off, ...plan } = session;
      const params = { path: { slug, session_id: id } };
      const body = { ...plan, day };
      return ask(api.PUT("/api/squads/{slug}/sessions/{session_id}/plan", { params, body }));
    },
    onSuccess: (moved, { session }) =>
      toast(`${session.opponent ?? session.title} is on ${mediumDay(moved.day)} now.`, () =>
        undo.change([moved]),
      ),
    onError: (problem) => toast(problem.message),
    onSettled: () => askAgain(queries, [slug]),
  });
}
