import type { QueryClient, QueryKey } from "@tanstack/react-query";

/**
 * Asks anew for what rests on something that has just changed. What is being asked for at this moment was asked before
 * the change: its answer is not taken, also where it would be the first.
 */
export async function askAgain(queries: QueryClient, queryKey?: QueryKey) {
  await queries.cancelQueries({ queryKey });
  await queries.invalidateQueries({ queryKey });
}
