/** The grid's typing, saving and undoing. A kept cell is shown at once and saved by itself. */

import { type QueryKey, useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type EntryChange, type Grid, rememberToken } from "../../api/client";
import { mediumDay } from "../../frame/days";
import { claim, dismiss, enqueue } from "../../offline/outbox";
import { waiting } from "../../offline/store";
import { cellKey, type Field, readCell, type Values } from "./cells";
import { GridSender, type GridState, NOTHING, without } from "./gridSender";

async function keptChanges(key: string): Promise<EntryChange[]> {
  const kept = await waiting().catch(() => []);
  const mine = kept.find((item) => item.key === key);
  return mine?.what === "ratings" ? mine.body.changes : [];
}

/** The sender of a grid, which outlives what is drawn: what waits is sent even when another screen is shown. */
function useSender(
  slug: string,
  grid: Grid,
  queryKey: QueryKey,
  say: (change: (now: GridState) => Partial<GridState>) => void,
) {
  const queries = useQueryClient();
  const key = `ratings ${slug} ${grid.id}`;
  const outside = {
    say,
    post: (changes: EntryChange[]) =>
      ask(
        api.PATCH("/api/squads/{slug}/sessions/{session_id}/entries", {
          params: { path: { slug, session_id: grid.id } },
          body: { changes },
        }),
      ),
    keep: (changes: EntryChange[]) => {
      const label = `Ratings of ${grid.title}, ${mediumDay(grid.day)}`;
      void enqueue({ key, label, what: "ratings", slug, session: grid.id, body: { changes } });
    },
    saved: (saved: Grid) => {
      void dismiss(key);
      queries.setQueryData(queryKey, saved);
      // Ratings change what the morning and the days show.
      askAgain(queries, [slug, "morning"]);
      askAgain(queries, [slug, "spine"]);
    },
  };
  const [sender] = useState(() => new GridSender(outside));
  sender.outside = outside;
  sender.setRows(grid.rows);
  // What an earlier visit left unsent is sent from here on by this screen.
  useEffect(() => {
    let gone = false;
    const release = claim(key);
    keptChanges(key).then((changes) => {
      if (!gone && changes.length > 0) sender.restore(changes);
    });
    return () => {
      gone = true;
      release();
    };
  }, [key, sender]);
  // Leaving the page with something unsaved asks first.
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (sender.unsent) event.preventDefault();
    };
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [sender]);
  return sender;
}

export function useGrid(slug: string, grid: Grid, queryKey: QueryKey) {
  const queries = useQueryClient();
  const [state, setState] = useState(NOTHING);
  const say = useCallback(
    (change: (now: GridState) => Partial<GridState>) => setState((now) => ({ ...now, ...change(now) })),
    [],
  );
  const sender = useSender(slug, grid, queryKey, say);
  const steps = useRef<[number, Values][][]>([]);
  const current = (athlete: number) => state.drafts.get(athlete) ?? sender.standing(athlete);

  /** Keep typed texts in cells; those that make no sense stay where they are and say so. */
  const keep = (typed: { athlete: number; field: Field; text: string }[]) => {
    const next = new Map<number, Values>();
    const refused = new Map(state.refused);
    for (const { athlete, field, text } of typed) {
      const read = readCell(field, text);
      const key = cellKey(athlete, field);
      if ("wrong" in read) {
        refused.set(key, { text, why: read.wrong });
        continue;
      }
      refused.delete(key);
      const before = next.get(athlete) ?? current(athlete);
      if (before[field] !== read.value) next.set(athlete, { ...before, [field]: read.value });
    }
    say(() => ({ refused }));
    if (next.size === 0) return;
    steps.current.push([...next.keys()].map((athlete) => [athlete, current(athlete)]));
    sender.put([...next]);
  };

  const undo = () => {
    const last = steps.current.pop();
    if (last) sender.put(last);
    return last !== undefined;
  };

  /** Of two changes of a row let one stand. */
  const settle = async (athlete: number, mine: boolean) => {
    const wanted = current(athlete);
    say(({ conflicts }) => ({ conflicts: without(conflicts, athlete) }));
    await queries.refetchQueries({ queryKey });
    const fresh = queries.getQueryData<Grid>(queryKey);
    if (fresh) sender.setRows(fresh.rows);
    if (mine) sender.put([[athlete, wanted]]);
    else sender.drop(athlete);
  };

  const forget = (key: string) => say(({ refused }) => ({ refused: without(refused, key) }));

  /** Send what waits. Whoever signed in anew in the meantime has another token. */
  const tryAgain = async () => {
    try {
      rememberToken((await ask(api.GET("/api/me"))).csrf_token);
    } catch {
      // The server is still away; sending says so.
    }
    await sender.send();
  };

  return { ...state, current, keep, undo, settle, forget, tryAgain };
}
