/**
 * What was noted at the pitch, put together into how things stand: the sums of the server's core, for a tablet
 * without a network. Both are held to one set of cases.
 */

export type Kind = "begin" | "stop" | "count" | "break" | "leave" | "note" | "on" | "off";

export interface Noted {
  id: string;
  kind: Kind;
  /** Seconds from any fixed moment. */
  at: number;
  athlete: number | null;
  part: number | null;
  amount: number;
  words: string;
  /** What is counted. */
  what: string;
}

/** At most so many in a spell, then a break of so many seconds. */
export type Rule = readonly [most: number, seconds: number];

export interface Run {
  part: number;
  begin: number;
  end: number | null;
}

export interface Spell {
  count: number;
  total: number;
  breakUntil: number | null;
  over: number;
}

export interface Stint {
  athlete: number;
  place: string;
  begin: number;
  end: number | null;
}

export interface Stands {
  runs: Run[];
  spells: Map<number, Spell>;
  left: Map<number, number>;
  stints: Stint[];
}

/** Spells are of `what` is asked for; without it, of everything counted together. */
export function fold(events: Noted[], rules: Map<number, Rule> = new Map(), what?: string): Stands {
  const stands: Stands = { runs: [], spells: new Map(), left: new Map(), stints: [] };
  const mine = events.filter((one) => one.kind !== "count" || what === undefined || one.what === what);
  const ordered = mine.sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1));
  for (const event of ordered) put(stands, event, rules);
  return stands;
}

function put({ runs, spells, left, stints }: Stands, event: Noted, rules: Map<number, Rule>) {
  const { kind, at, athlete, part } = event;
  if (kind === "begin") {
    if (part !== null) begin(runs, part, at);
    return;
  }
  if (kind === "stop") return stop(runs, at);
  if (athlete === null) return;
  if (kind === "count" || kind === "break") {
    const spell = spells.get(athlete) ?? { count: 0, total: 0, breakUntil: null, over: 0 };
    spells.set(athlete, counted(spell, event, rules.get(athlete)));
  } else if (kind === "leave") {
    if (!left.has(athlete)) left.set(athlete, at);
    off(stints, at, (one) => one.athlete === athlete);
  } else if (kind === "on") {
    off(stints, at, (one) => one.athlete === athlete || one.place === event.words);
    stints.push({ athlete, place: event.words, begin: at, end: null });
  } else if (kind === "off") off(stints, at, (one) => one.athlete === athlete);
}

/** A part that runs already goes on: two tablets that both began it began it once. */
function begin(runs: Run[], part: number, at: number) {
  const last = runs.at(-1);
  if (last && last.end === null) {
    if (last.part === part) return;
    last.end = at;
  }
  runs.push({ part, begin: at, end: null });
}

function stop(runs: Run[], at: number) {
  const last = runs.at(-1);
  if (last && last.end === null) last.end = at;
}

function counted(before: Spell, event: Noted, rule: Rule | undefined): Spell {
  const over = before.breakUntil !== null && event.at >= before.breakUntil;
  const spell = over ? { ...before, count: 0, breakUntil: null } : before;
  if (event.kind === "break") return { ...spell, breakUntil: event.at + event.amount };
  const by = Math.round(event.amount);
  const total = Math.max(spell.total + by, 0);
  if (spell.breakUntil !== null) {
    // The one that began the break is taken back, and the break with it.
    if (by < 0 && spell.over === 0 && rule && spell.count >= rule[0])
      return { ...spell, count: spell.count + by, total, breakUntil: null };
    return { ...spell, total, over: Math.max(spell.over + by, 0) };
  }
  const count = Math.max(spell.count + by, 0);
  const full = rule !== undefined && count >= rule[0] && by > 0;
  return { ...spell, count, total, breakUntil: full ? event.at + rule[1] : null };
}

function off(stints: Stint[], at: number, whose: (one: Stint) => boolean) {
  for (const one of stints) if (one.end === null && whose(one)) one.end = at;
}
