import type { Drill, Grid } from "../../../api/client";
import { typedNumber } from "../../../kit/fields";

/** A part as it is typed. */
export interface Line {
  /** Its own; one added by hand begins with ``typed`` and gets the caret. */
  key: string;
  name: string;
  minutes: string;
  weight: string;
  /** How hard a round is to be, 1 to 5; empty where it is none. */
  grade: string;
}

export const GRADES = [
  ["1", "1 easy, slow"],
  ["2", "2 light"],
  ["3", "3 half and half"],
  ["4", "4 hard"],
  ["5", "5 all out"],
] as const;

export const WEIGHTS = [
  ["1", "1 warm-up, drill"],
  ["2", "2 drill under pressure"],
  ["3", "3 play"],
  ["4", "4 as in a match"],
] as const;

export const linesOf = (segments: Grid["segments"]): Line[] =>
  segments.map((one, i) => ({
    key: `kept ${i}`,
    name: one.name,
    minutes: String(one.minutes),
    weight: String(one.weight),
    grade: one.grade === null ? "" : String(one.grade),
  }));

/** The parts as they are sent. */
export const partsOf = (lines: Line[]) =>
  lines.map((line) => ({
    name: line.name.trim(),
    minutes: typedNumber(line.minutes),
    weight: Number(line.weight),
    grade: line.grade === "" ? null : Number(line.grade),
  }));

/** An aim as it is typed, in per cent. */
export const aimTyped = (aim: number) => String(Math.round(aim * 1000) / 10);

/** An aim as it is sent, a share; undefined where what is typed is none. */
export function aimOf(typed: string): number | undefined {
  const percent = typedNumber(typed);
  return percent >= 20 && percent <= 100 ? percent / 100 : undefined;
}

export const gradesOf = (lines: Line[]) =>
  lines.filter((line) => line.grade !== "").map((line) => Number(line.grade));

/** The lines with other grades for those that have one. */
export function withGrades(lines: Line[], grades: number[]): Line[] {
  const rest = [...grades];
  return lines.map((line) => (line.grade === "" ? line : { ...line, grade: String(rest.shift()) }));
}

/** What is wrong with a line, and with which of its fields; or nothing. */
export function wrongWith(lines: Line[], i: number): { at: "name" | "minutes"; said: string } | null {
  const line = lines[i];
  if (!line) return null;
  const name = line.name.trim().toLowerCase();
  if (!name) return { at: "name", said: "A part has a name." };
  if (lines.slice(0, i).some((one) => one.name.trim().toLowerCase() === name))
    return { at: "name", said: "Two parts of a session have two names." };
  const minutes = typedNumber(line.minutes);
  return minutes > 0 && minutes <= 600
    ? null
    : { at: "minutes", said: "More than 0 and at most 600 minutes." };
}

/** A name that no line has yet: this one, or with the next number. */
function freeName(lines: Line[], wanted: string): string {
  const taken = new Set(lines.map((line) => line.name.trim().toLowerCase()));
  const plain = wanted.replace(/ \d+$/, "");
  let name = wanted;
  for (let n = 2; taken.has(name.toLowerCase()); n++) name = `${plain} ${n}`;
  return name;
}

/** A part once more, behind itself. */
export function again(lines: Line[], i: number, key: string): Line[] {
  const line = lines[i];
  if (!line?.name.trim()) return lines;
  return [
    ...lines.slice(0, i + 1),
    { ...line, key, name: freeName(lines, line.name.trim()) },
    ...lines.slice(i + 1),
  ];
}

export function withDrill(lines: Line[], drill: Drill, key: string): Line[] {
  const name = freeName(lines, drill.name);
  return [
    ...lines,
    { key, name, minutes: String(drill.minutes), weight: String(Math.round(drill.weight)), grade: "" },
  ];
}

export function moved(lines: Line[], i: number, by: -1 | 1): Line[] {
  const to = i + by;
  const line = lines[i];
  if (!line || to < 0 || to >= lines.length) return lines;
  const rest = lines.filter((_, at) => at !== i);
  return [...rest.slice(0, to), line, ...rest.slice(to)];
}

/** ``78 of 80 min``, and what is left or too much. */
export function sumSaid(lines: Line[], planned: number): string {
  const sum = lines.reduce((all, line) => all + (typedNumber(line.minutes) || 0), 0);
  const off = Math.round((planned - sum) * 10) / 10;
  const said = `${Math.round(sum * 10) / 10} of ${planned} min planned`;
  if (off === 0) return `${said}.`;
  return off > 0 ? `${said}: ${off} min are left.` : `${said}: ${-off} min more than the session has.`;
}
