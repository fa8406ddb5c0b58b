/**
 * The grid's typing, saving and undoing.
 *
 * A kept cell is shown at once and saved by itself. Saves go one request at a time; what is kept meanwhile goes with
 * the next. A refused cell keeps its text and says why, and everything else is saved all the same.
 */

import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect, useRef, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Grid, type GridRow, Problem, rememberToken } from "../../api/client";
import { mediumDay } from "../../frame/days";
import { claim, dismiss, enqueue } from "../../offline/outbox";
import { waiting } from "../../offline/store";
import { cellKey, type Field, readCell, showCell, type Values, valuesOf } from "./cells";

export type RowState = "saving" | "saved" | "waiting";

export interface Conflict {
  theirs: { minutes: number | null; effort: number | null; version: number };
}

interface Step {
  athlete: number;
  before: Values;
}

const RETRY_MS = 4000;

type Kept = Values & { athlete_id: number; version: number | null };

const restored = ({ athlete_id, minutes, effort, words }: Kept): [number, Values] => [
  athlete_id,
  { minutes, effort, words },
];

async function keptChanges(key: string): Promise<Kept[]> {
  const kept = await waiting().catch(() => []);
  const mine = kept.find((item) => item.key === key);
  return mine?.what === "ratings" ? (mine.body.changes as Kept[]) : [];
}

export function useGrid(slug: string, grid: Grid, queryKey: readonly unknown[]) {
  const queries = useQueryClient();
  const [drafts, setDrafts] = useState<Map<number, Values>>(new Map());
  const [refused, setRefused] = useState<Map<string, { text: string; why: string }>>(new Map());
  const [states, setStates] = useState<Map<number, RowState>>(new Map());
  const [conflicts, setConflicts] = useState<Map<number, Conflict>>(new Map());
  const [failure, setFailure] = useState<{ status: number; text: string } | null>(null);
  const rows = useRef(new Map<number, GridRow>());
  const pending = useRef(new Map<number, Values>());
  const steps = useRef<Step[][]>([]);
  const busy = useRef(false);
  const retry = useRef<ReturnType<typeof setTimeout>>(undefined);
  // For what was kept without a network: the version it was typed on, which may not be the one of now.
  const bases = useRef(new Map<number, number | null>());
  rows.current = new Map(grid.rows.map((row) => [row.athlete_id, row]));

  const current = useCallback(
    (athlete: number): Values => {
      const row = rows.current.get(athlete);
      return drafts.get(athlete) ?? (row ? valuesOf(row) : { minutes: null, effort: null, words: null });
    },
    [drafts],
  );

  const mark = useCallback((athletes: Iterable<number>, state: RowState) => {
    setStates((before) => {
      const after = new Map(before);
      for (const athlete of athletes) after.set(athlete, state);
      return after;
    });
  }, []);

  const dropDraft = useCallback((athlete: number) => {
    setDrafts((before) => {
      const after = new Map(before);
      after.delete(athlete);
      return after;
    });
  }, []);

  const key = `ratings ${slug} ${grid.id}`;
  const versionOf = useCallback(
    (athlete: number) =>
      bases.current.has(athlete)
        ? (bases.current.get(athlete) ?? null)
        : (rows.current.get(athlete)?.version ?? null),
    [],
  );

  /** Keep what waits in the browser, so that it survives a closed tab and goes out from any screen. */
  const keepPending = useCallback(
    () =>
      enqueue({
        key,
        label: `Ratings of ${grid.title}, ${mediumDay(grid.day)}`,
        what: "ratings",
        slug,
        session: grid.id,
        body: {
          changes: [...pending.current].map(([athlete, values]) => ({
            athlete_id: athlete,
            ...values,
            version: versionOf(athlete),
          })),
        },
      }),
    [key, slug, grid.id, grid.title, grid.day, versionOf],
  );

  const send = useCallback(async () => {
    if (busy.current || pending.current.size === 0) return;
    busy.current = true;
    clearTimeout(retry.current);
    const batch = [...pending.current];
    pending.current = new Map();
    const athletes = batch.map(([athlete]) => athlete);
    mark(athletes, "saving");
    try {
      const saved = await ask(
        api.PATCH("/api/squads/{slug}/sessions/{session_id}/entries", {
          params: { path: { slug, session_id: grid.id } },
          body: {
            changes: batch.map(([athlete, values]) => ({
              athlete_id: athlete,
              ...values,
              version: versionOf(athlete),
            })),
          },
        }),
      );
      for (const athlete of athletes) bases.current.delete(athlete);
      void dismiss(key);
      rows.current = new Map(saved.rows.map((row) => [row.athlete_id, row]));
      queries.setQueryData(queryKey, saved);
      for (const athlete of athletes) if (!pending.current.has(athlete)) dropDraft(athlete);
      mark(athletes, "saved");
      setFailure(null);
      // Ratings change what the morning and the days show.
      askAgain(queries, [slug, "morning"]);
      askAgain(queries, [slug, "spine"]);
    } catch (error) {
      const problem = error instanceof Problem ? error : new Problem(0, String(error));
      const place = problem.errors.map((one) => /^changes\.(\d+)/.exec(one.field)?.[1]).find(Boolean);
      const culprit = place === undefined ? undefined : batch[Number(place)]?.[0];
      if (culprit !== undefined) bases.current.delete(culprit);
      const again = (athlete: number, values: Values) => {
        if (!pending.current.has(athlete)) pending.current.set(athlete, values);
      };
      for (const [athlete, values] of batch) if (athlete !== culprit) again(athlete, values);
      if (culprit !== undefined && problem.status === 409) {
        setConflicts((before) => new Map(before).set(culprit, problem.body as unknown as Conflict));
      } else if (culprit !== undefined) {
        const field = problem.errors[0]?.field.split(".").at(-1) as Field;
        const values = batch[Number(place)]?.[1];
        const text = values ? showCell(values, field) : "";
        setRefused((before) => new Map(before).set(cellKey(culprit, field), { text, why: problem.message }));
        dropDraft(culprit);
      } else {
        setFailure({ status: problem.status, text: problem.message });
        mark(pending.current.keys(), "waiting");
        if (problem.status === 0) void keepPending();
        // A server that is away comes back, and what waits is sent then, even when another screen is shown by now.
        // A refusal of the whole batch needs a person first.
        if (problem.status === 0 || problem.status >= 500) retry.current = setTimeout(send, RETRY_MS);
        busy.current = false;
        return;
      }
    }
    busy.current = false;
    if (pending.current.size > 0) void send();
  }, [slug, grid.id, queries, queryKey, mark, dropDraft, key, keepPending, versionOf]);

  const sendNow = useRef(send);
  sendNow.current = send;
  // What an earlier visit left unsent is shown again, and sent from here on by this screen.
  useEffect(() => {
    let gone = false;
    const release = claim(key);
    keptChanges(key).then((changes) => {
      if (gone || changes.length === 0) return;
      for (const { athlete_id, version, ...values } of changes) {
        bases.current.set(athlete_id, version);
        if (!pending.current.has(athlete_id)) pending.current.set(athlete_id, values);
      }
      setDrafts((before) => new Map([...changes.map(restored), ...before]));
      mark(
        changes.map((change) => change.athlete_id),
        "waiting",
      );
      void sendNow.current();
    });
    return () => {
      gone = true;
      release();
    };
  }, [key, mark]);

  const put = useCallback(
    (changes: [number, Values][], remember: boolean) => {
      if (changes.length === 0) return;
      if (remember) steps.current.push(changes.map(([athlete]) => ({ athlete, before: current(athlete) })));
      setDrafts((before) => new Map([...before, ...changes]));
      for (const [athlete, values] of changes) pending.current.set(athlete, values);
      void send();
    },
    [current, send],
  );

  /** Keep typed texts in cells; those that make no sense stay where they are and say so. */
  const keep = useCallback(
    (typed: { athlete: number; field: Field; text: string }[]) => {
      const next = new Map<number, Values>();
      const wrong = new Map(refused);
      for (const { athlete, field, text } of typed) {
        const read = readCell(field, text);
        const key = cellKey(athlete, field);
        if ("wrong" in read) {
          wrong.set(key, { text, why: read.wrong });
          continue;
        }
        wrong.delete(key);
        const before = next.get(athlete) ?? current(athlete);
        if (before[field] !== read.value) next.set(athlete, { ...before, [field]: read.value });
      }
      setRefused(wrong);
      put([...next], true);
    },
    [refused, current, put],
  );

  const undo = useCallback(() => {
    const last = steps.current.pop();
    if (!last) return false;
    put(
      last.map((step) => [step.athlete, step.before]),
      false,
    );
    return true;
  }, [put]);

  const settle = useCallback(
    async (athlete: number, mine: boolean) => {
      const wanted = current(athlete);
      setConflicts((before) => {
        const after = new Map(before);
        after.delete(athlete);
        return after;
      });
      await queries.refetchQueries({ queryKey });
      const fresh = queries.getQueryData<Grid>(queryKey);
      if (fresh) rows.current = new Map(fresh.rows.map((row) => [row.athlete_id, row]));
      if (mine) put([[athlete, wanted]], false);
      else dropDraft(athlete);
    },
    [current, queries, queryKey, put, dropDraft],
  );

  const forget = useCallback((key: string) => {
    setRefused((before) => {
      const after = new Map(before);
      after.delete(key);
      return after;
    });
  }, []);

  /** Send what waits. Whoever signed in anew in the meantime has another token. */
  const tryAgain = useCallback(async () => {
    try {
      rememberToken((await ask(api.GET("/api/me"))).csrf_token);
    } catch {
      // The server is still away; sending says so.
    }
    await send();
  }, [send]);

  // Leaving the page with something unsaved asks first.
  useEffect(() => {
    const ask = (event: BeforeUnloadEvent) => {
      if (pending.current.size > 0 || busy.current) event.preventDefault();
    };
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, []);

  return { current, keep, undo, settle, forget, refused, states, conflicts, failure, tryAgain };
}
