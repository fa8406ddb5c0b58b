import { type QueryKey, useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../api/askAgain";
import type { Problem } from "../api/client";
import { useToast } from "../frame/toast";

/** Something done at one press: what rests on it is asked for again, and what went wrong is said at the foot. */
export function useDoing<What = void, Done = unknown>(
  renews: QueryKey,
  send: (what: What) => Promise<Done>,
  done?: (answer: Done, what: What) => void,
) {
  const queries = useQueryClient();
  const toast = useToast();
  return useMutation<Done, Problem, What>({
    mutationFn: send,
    onSuccess: done,
    onError: (problem) => toast(problem.message),
    onSettled: () => askAgain(queries, renews),
  });
}
