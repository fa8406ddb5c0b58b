import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, Problem, type SessionWork, type WorkChange } from "../../api/client";
import { workQuery } from "../../api/queries/session";
import type { Place } from "../../frame/place";
import { enqueue, isWaiting } from "../../offline/outbox";
import { keepCopy } from "../../offline/store";

export const workKey = (session: string, change: Pick<WorkChange, "athlete_id" | "what">) =>
  `work ${session} ${change.athlete_id} ${change.what}`;

/** Writes documents of work; without a network they are kept and sent later. What was refused the problem tells. */
export function useWork(place: Place, session: string) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const { queryKey } = workQuery(slug, session);

  /** Keep the changes until there is a network, and show them as they will be. */
  const keep = async (changes: WorkChange[]): Promise<SessionWork> => {
    for (const change of changes)
      await enqueue({
        key: workKey(session, change),
        label: `${change.what} of a session`,
        what: "work",
        slug,
        session,
        body: { changes: [change] },
      });
    const shown = queries.getQueryData(queryKey);
    if (!shown) throw new Problem(0, "The server does not answer. What you typed is kept here.");
    const next = { ...shown, rows: shown.rows.map((row) => withChanges(row, changes)) };
    keepCopy(`work ${slug} ${session}`, next).catch(() => {});
    return next;
  };
  return useMutation<SessionWork, Problem, WorkChange[]>({
    mutationFn: async (changes) => {
      // Behind what waits already, so that they arrive in their order.
      if (changes.some((change) => isWaiting(workKey(session, change)))) return keep(changes);
      try {
        return await ask(
          api.PUT("/api/squads/{slug}/sessions/{session_id}/work", {
            params: { path: { slug, session_id: session } },
            body: { changes },
          }),
        );
      } catch (error) {
        if (error instanceof Problem && error.status === 0) return keep(changes);
        throw error;
      }
    },
    onSuccess: (work) => {
      queries.setQueryData(queryKey, work);
      askAgain(queries, [slug, "morning"]);
    },
    scope: { id: `work ${session}` },
  });
}

function withChanges(row: SessionWork["rows"][number], changes: WorkChange[]): SessionWork["rows"][number] {
  const mine = changes.filter((change) => change.athlete_id === row.athlete_id);
  const works = mine.reduce(
    (before, { what, data, version }) => [
      ...before.filter((work) => work.what !== what),
      ...(data ? [{ what, data, version: version ?? 0 }] : []),
    ],
    row.works as { what: string; data: Record<string, unknown>; version: number }[],
  );
  return { ...row, works: works as typeof row.works };
}
