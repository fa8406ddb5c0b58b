/** What a week says of its cells, and what is tried out in it. */

import type { Proposal, WeekCell, WeekChanges, WeekRow } from "../../api/client";
import * as say from "../../frame/numbers";

export const NOTHING: WeekChanges = { sessions: [], own: [] };

export const isOver = (cell: WeekCell) => cell.over > 0 || cell.also.length > 0;

/** What is left of room above the plan; null where there is no figure. */
export const spare = (cell: WeekCell) => (cell.room === null ? null : cell.room - cell.plan);

/** A plan that takes nine tenths of its room leaves little for anything else. */
export const isTight = (cell: WeekCell) =>
  cell.plan > 0 && cell.room !== null && !isOver(cell) && cell.plan > 0.9 * cell.room;

/** Rows that are shown by themselves: over, tight, or not as planned. */
export const standsOut = (row: WeekRow) =>
  row.stands !== "" || row.cells.some((cell) => isOver(cell) || isTight(cell));

export interface Group {
  position: string;
  rows: WeekRow[];
  over: number;
}

/** Rows by position, in the order in which positions are first met. */
export function groupsOf(rows: WeekRow[]): Group[] {
  const groups = new Map<string, WeekRow[]>();
  for (const row of rows) groups.set(row.position, [...(groups.get(row.position) ?? []), row]);
  return [...groups].map(([position, mine]) => ({
    position,
    rows: mine,
    over: mine.filter((row) => row.cells.some(isOver)).length,
  }));
}

/** A cell in words, as it is read out. */
export function cellText(cell: WeekCell): string {
  if (cell.closed) return cell.words;
  const also = cell.also.length > 0 ? `; too much on ${cell.also.join(", ")}` : "";
  if (cell.room === null) return `${say.load(cell.plan)} planned, no figure: ${cell.words}${also}`;
  const over = cell.over > 0 ? `, ${say.load(cell.over)} over ${cell.by}` : "";
  return `${say.load(cell.plan)} of ${say.room(cell.room)}${over}${also}`;
}

/** What a proposal changes, as it is sent. */
export const changesOf = (proposal: Proposal): WeekChanges => ({
  sessions: proposal.sessions.map((one) => ({ session_id: one.session_id, minutes: one.after })),
  own: proposal.own.map((one) => ({
    athlete_id: one.athlete_id,
    session_id: one.session_id,
    minutes: one.after,
  })),
});

/** Minutes typed for a session, in place of those typed before; as planned takes them out. */
export function withMinutes(
  changes: WeekChanges,
  session: string,
  minutes: number,
  planned: number,
): WeekChanges {
  const others = (changes.sessions ?? []).filter((one) => one.session_id !== session);
  const sessions = minutes === planned ? others : [...others, { session_id: session, minutes }];
  return { sessions, own: changes.own ?? [] };
}

export const isNothing = (changes: WeekChanges) =>
  (changes.sessions ?? []).length === 0 && (changes.own ?? []).length === 0;

/** People with parts of their own, each with their days. */
export function byPerson(own: Proposal["own"]): [string, Proposal["own"]][] {
  const people = new Map<string, Proposal["own"]>();
  for (const one of own) people.set(one.name, [...(people.get(one.name) ?? []), one]);
  return [...people];
}
