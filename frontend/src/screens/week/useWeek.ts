import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type WeekChanges } from "../../api/client";
import { triedWeekQuery, weekQuery } from "../../api/queries/week";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { isNothing, NOTHING } from "./weekStates";

/** A week as it is planned, with what is tried out in it, and saving that. */
export function useWeek(place: Place) {
  const { slug } = place.squad;
  const channel = place.get("channel");
  const toast = useToast();
  const queries = useQueryClient();
  const week = useQuery(weekQuery(slug, place.day, channel));
  const [changes, setChanges] = useState<WeekChanges>(NOTHING);
  const asked = useDeferredValue(changes);
  const tried = useQuery({
    ...triedWeekQuery(slug, place.day, channel, asked),
    enabled: !isNothing(asked),
  });
  const put = (body: WeekChanges, edition: string) =>
    ask(
      api.PUT("/api/squads/{slug}/week", {
        params: { path: { slug } },
        body: { day: place.day, edition, ...body },
      }),
    );
  const back = useMutation<unknown, Problem, { body: WeekChanges; edition: string }>({
    mutationFn: ({ body, edition }) => put(body, edition),
    onSuccess: () => askAgain(queries, [slug]),
    onError: (problem) => toast(problem.message),
  });
  const apply = useMutation<Awaited<ReturnType<typeof put>>, Problem, WeekChanges>({
    mutationFn: (body) => put(body, week.data?.edition ?? ""),
    onSuccess: async ({ edition, ...before }) => {
      // What was tried stays on the grid until the plan that is now so has come.
      await askAgain(queries, [slug, "week"]);
      setChanges(NOTHING);
      void askAgain(queries, [slug]);
      toast("The week is planned so.", () => back.mutate({ body: before, edition }));
    },
    // Somebody else's plan is shown before this one can replace it.
    onError: (problem) => problem.status === 409 && askAgain(queries, [slug, "week"]),
  });
  const trying = !isNothing(changes);
  return {
    week,
    shown: trying ? (tried.data ?? week.data) : week.data,
    changes,
    setChanges,
    trying,
    /** What is shown is not yet that of what was typed last. */
    settling: trying && !tried.error && (asked !== changes || !tried.data || tried.isPlaceholderData),
    wrong: trying ? tried.error : null,
    apply,
  };
}
