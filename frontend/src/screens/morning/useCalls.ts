/** Making calls and taking them back. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type CallItem, type Lane, type Morning, type Problem } from "../../api/client";
import { morningQuery } from "../../api/queries/morning";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { type Asked, awaited, bodyOf } from "./call";
import { callName } from "./words";

export function useWithdrawCall(place: Place, name: string) {
  const queries = useQueryClient();
  const toast = useToast();
  return useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/calls/{call_id}", {
          params: { path: { slug: place.squad.slug, call_id: id } },
        }),
      ),
    onSuccess: () => toast(`The call for ${name} is taken back.`),
    onError: (problem) => toast(problem.message),
    onSettled: () => askAgain(queries, [place.squad.slug, "morning"]),
  });
}

/** A lane shows a call at once, and shows the old one again if it was refused. Several are made together or not at all. */
export function useMakeCalls(place: Place, people: Lane[], onMade: () => void) {
  const queries = useQueryClient();
  const toast = useToast();
  const only = people.length === 1 ? people[0] : undefined;
  const whom = only?.name ?? `${people.length} athletes`;
  const withdraw = useWithdrawCall(place, whom);
  const { queryKey } = morningQuery(place.squad.slug, place.day, place.get("channel"));
  const show = (call: CallItem | null) =>
    queries.setQueryData<Morning>(
      queryKey,
      (before) =>
        before && {
          ...before,
          lanes: before.lanes.map((one) => (one.athlete_id === only?.athlete_id ? { ...one, call } : one)),
        },
    );
  return useMutation<CallItem[], Problem, Asked, { before: CallItem | null }>({
    mutationFn: async (asked) => {
      const params = { path: { slug: place.squad.slug } };
      const bodies = people.map((one) => bodyOf(asked, one, place.day));
      const [first] = bodies;
      if (first && bodies.length === 1)
        return [await ask(api.POST("/api/squads/{slug}/calls", { params, body: first }))];
      const { calls } = await ask(
        api.POST("/api/squads/{slug}/calls/several", { params, body: { calls: bodies } }),
      );
      return calls;
    },
    onMutate: ({ draft }) => {
      if (only) show(awaited(draft, new Date()));
      return { before: only?.call ?? null };
    },
    onSuccess: (calls, { draft }) => {
      const [first] = calls;
      if (only && first) show(first);
      toast(`${callName(draft.kind)} recorded for ${whom}.`, () => {
        for (const one of calls) withdraw.mutate(one.id);
      });
      askAgain(queries, [place.squad.slug, "morning"]);
      onMade();
    },
    onError: (_problem, _asked, context) => only && show(context?.before ?? null),
  });
}
