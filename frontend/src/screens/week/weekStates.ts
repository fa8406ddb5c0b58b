/** What a week says of its cells, and what is tried out in it. */

import type { Proposal, WeekCell, WeekChanges, WeekRow, WeekSession } from "../../api/client";
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

/** What a proposal changes beside what is tried out already, as it is sent. */
export function changesOf(proposal: Proposal, tried: WeekChanges): WeekChanges {
  const wanted = new Map(proposal.sessions.map((one) => [one.session_id, one]));
  const before = tried.sessions ?? [];
  const sessions = [
    ...before.map((one) => {
      const to = wanted.get(one.session_id);
      return to ? { ...one, minutes: to.after, ...onAnother(to) } : one;
    }),
    ...[...wanted.values()]
      .filter((one) => !before.some((tried) => tried.session_id === one.session_id))
      .map((one) => ({ session_id: one.session_id, minutes: one.after, ...onAnother(one) })),
  ];
  const mine = proposal.own.map((one) => ({
    athlete_id: one.athlete_id,
    session_id: one.session_id,
    minutes: one.after,
  }));
  const same = (one: { athlete_id: number; session_id: string }) =>
    mine.some((other) => other.athlete_id === one.athlete_id && other.session_id === one.session_id);
  return { sessions, own: [...(tried.own ?? []).filter((one) => !same(one)), ...mine] };
}

const onAnother = (one: Proposal["sessions"][number]) => (one.to ? { day: one.to } : {});

/** A session with other minutes or on another day, in place of what was tried of it; as planned takes it out. */
export function withSession(
  changes: WeekChanges,
  one: WeekSession,
  wanted: { minutes?: number; day?: string },
): WeekChanges {
  const tried = (changes.sessions ?? []).find((each) => each.session_id === one.id);
  const minutes = wanted.minutes ?? tried?.minutes ?? one.minutes;
  const day = wanted.day ?? tried?.day ?? one.day;
  const others = (changes.sessions ?? []).filter((each) => each.session_id !== one.id);
  const moved = day === one.day ? {} : { day };
  const asPlanned = minutes === one.minutes && day === one.day;
  return {
    sessions: asPlanned ? others : [...others, { session_id: one.id, minutes, ...moved }],
    own: changes.own ?? [],
  };
}

export const isNothing = (changes: WeekChanges) =>
  (changes.sessions ?? []).length === 0 && (changes.own ?? []).length === 0;

/** People with parts of their own, each with their days. */
export function byPerson(own: Proposal["own"]): [string, Proposal["own"]][] {
  const people = new Map<string, Proposal["own"]>();
  for (const one of own) people.set(one.name, [...(people.get(one.name) ?? []), one]);
  return [...people];
}
