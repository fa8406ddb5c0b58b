/**
 * What is kept of a grid, on its way to the server.
 *
 * Saves go one request at a time; what is kept meanwhile goes with the next. A refused cell keeps its text and says
 * why, and everything else is saved all the same.
 */

import { type EntryChange, type Grid, type GridRow, Problem } from "../../api/client";
import { cellKey, type Field, showCell, type Values, valuesOf } from "./cells";

export type RowState = "saving" | "saved" | "waiting";

export interface Conflict {
  theirs: { minutes: number | null; effort: number | null; version: number };
}

export interface GridState {
  /** What is shown in place of what the server has, by athlete. */
  drafts: ReadonlyMap<number, Values>;
  /** Texts that could not be taken, by cell. */
  refused: ReadonlyMap<string, { text: string; why: string }>;
  states: ReadonlyMap<number, RowState>;
  conflicts: ReadonlyMap<number, Conflict>;
  failure: { status: number; text: string } | null;
}

export const NOTHING: GridState = {
  drafts: new Map(),
  refused: new Map(),
  states: new Map(),
  conflicts: new Map(),
  failure: null,
};

export const without = <Key, Value>(map: ReadonlyMap<Key, Value>, key: Key) =>
  new Map([...map].filter(([one]) => one !== key));

interface Outside {
  post: (changes: EntryChange[]) => Promise<Grid>;
  /** Keeps in the browser what could not be sent, so that it survives a closed tab. */
  keep: (changes: EntryChange[]) => void;
  saved: (grid: Grid) => void;
  say: (change: (now: GridState) => Partial<GridState>) => void;
}

const RETRY_MS = 4000;

type Batch = [number, Values][];

export class GridSender {
  rows = new Map<number, GridRow>();
  private pending = new Map<number, Values>();
  // For what was kept without a network: the version it was typed on, which may not be the one of now.
  private bases = new Map<number, number | null>();
  private busy = false;
  private retry: ReturnType<typeof setTimeout> | undefined;

  constructor(public outside: Outside) {}

  get unsent() {
    return this.pending.size > 0 || this.busy;
  }

  setRows(rows: GridRow[]) {
    this.rows = new Map(rows.map((row) => [row.athlete_id, row]));
  }

  /** Values of a row as the server has them. */
  standing(athlete: number): Values {
    const row = this.rows.get(athlete);
    return row ? valuesOf(row) : { minutes: null, effort: null, words: null };
  }

  put(changes: Batch) {
    this.outside.say(({ drafts }) => ({ drafts: new Map([...drafts, ...changes]) }));
    for (const [athlete, values] of changes) this.pending.set(athlete, values);
    void this.send();
  }

  /** What an earlier visit left unsent is shown again, and sent from here on. */
  restore(changes: EntryChange[]) {
    const kept: Batch = changes.map(({ athlete_id, minutes = null, effort = null, words = null }) => [
      athlete_id,
      { minutes, effort, words },
    ]);
    for (const { athlete_id, version } of changes) this.bases.set(athlete_id, version ?? null);
    for (const [athlete, values] of kept) if (!this.pending.has(athlete)) this.pending.set(athlete, values);
    this.outside.say(({ drafts }) => ({ drafts: new Map([...kept, ...drafts]) }));
    this.mark(
      kept.map(([athlete]) => athlete),
      "waiting",
    );
    void this.send();
  }

  async send() {
    if (this.busy || this.pending.size === 0) return;
    this.busy = true;
    clearTimeout(this.retry);
    const batch = [...this.pending];
    this.pending = new Map();
    this.mark(
      batch.map(([athlete]) => athlete),
      "saving",
    );
    let goesOn = true;
    try {
      this.taken(batch, await this.outside.post(this.changes(batch)));
    } catch (error) {
      goesOn = this.refused(batch, error instanceof Problem ? error : new Problem(0, String(error)));
    }
    this.busy = false;
    if (goesOn && this.pending.size > 0) void this.send();
  }

  private changes(batch: Iterable<[number, Values]>): EntryChange[] {
    return [...batch].map(([athlete_id, values]) => ({
      athlete_id,
      ...values,
      version: this.bases.has(athlete_id)
        ? (this.bases.get(athlete_id) ?? null)
        : (this.rows.get(athlete_id)?.version ?? null),
    }));
  }

  private taken(batch: Batch, saved: Grid) {
    const athletes = batch.map(([athlete]) => athlete);
    for (const athlete of athletes) this.bases.delete(athlete);
    this.setRows(saved.rows);
    this.outside.saved(saved);
    for (const athlete of athletes) if (!this.pending.has(athlete)) this.dropDraft(athlete);
    this.mark(athletes, "saved");
    this.outside.say(({ conflicts }) => ({
      failure: null,
      conflicts: new Map([...conflicts].filter(([athlete]) => !athletes.includes(athlete))),
    }));
  }

  /** Puts back what was not at fault. Returns whether to go on sending. */
  private refused(batch: Batch, problem: Problem): boolean {
    const place = problem.errors.map((one) => /^changes\.(\d+)/.exec(one.field)?.[1]).find(Boolean);
    const culprit = place === undefined ? undefined : batch[Number(place)];
    for (const [athlete, values] of batch)
      if (athlete !== culprit?.[0] && !this.pending.has(athlete)) this.pending.set(athlete, values);
    if (!culprit) return this.away(problem);
    const [athlete, values] = culprit;
    this.bases.delete(athlete);
    if (problem.status === 409) {
      // What was typed, or settled, after it goes next and has an answer of its own.
      if (this.pending.has(athlete)) return true;
      const conflict = problem.body as unknown as Conflict;
      this.outside.say(({ conflicts }) => ({ conflicts: new Map(conflicts).set(athlete, conflict) }));
      return true;
    }
    const field = problem.errors[0]?.field.split(".").at(-1) as Field;
    const cell = { text: showCell(values, field), why: problem.message };
    this.outside.say(({ refused }) => ({ refused: new Map(refused).set(cellKey(athlete, field), cell) }));
    this.dropDraft(athlete);
    return true;
  }

  private away(problem: Problem): boolean {
    this.outside.say(() => ({ failure: { status: problem.status, text: problem.message } }));
    this.mark(this.pending.keys(), "waiting");
    if (problem.status === 0) this.outside.keep(this.changes(this.pending));
    // A server that is away comes back, and what waits is sent then, even when another screen is shown by now.
    // A refusal of the whole batch needs a person first.
    if (problem.status === 0 || problem.status >= 500)
      this.retry = setTimeout(() => void this.send(), RETRY_MS);
    return false;
  }

  /** Lets what the server has stand, whatever was typed. */
  drop(athlete: number) {
    this.pending.delete(athlete);
    this.dropDraft(athlete);
  }

  private dropDraft(athlete: number) {
    this.outside.say(({ drafts }) => ({ drafts: without(drafts, athlete) }));
  }

  private mark(athletes: Iterable<number>, state: RowState) {
    const marked = [...athletes].map((athlete) => [athlete, state] as const);
    this.outside.say(({ states }) => ({ states: new Map([...states, ...marked]) }));
  }
}
