/** Places of days on the axis of a climb: what is before the return is narrow, what follows is wide. */

import { plusDays } from "../frame/days";

const DAY = 86_400_000;

/** Days from one day to another. */
export const daysBetween = (from: string, to: string) =>
  Math.round((Date.parse(to) - Date.parse(from)) / DAY);

export interface ClimbScale {
  (day: string): number;
  left: number;
  right: number;
  from: string;
  to: string;
  /** The day from which the axis is wider, null where it is the same throughout. */
  wider: string | null;
}

/** How much of the axis is left to what is before the return, at most. */
const NARROW = 0.26;

/** A scale from the first day shown through the last; where much is before `pivot`, it takes a quarter of the room. */
export function climbScale(from: string, pivot: string, to: string, left: number, right: number): ClimbScale {
  const all = Math.max(1, daysBetween(from, to));
  const before = Math.min(Math.max(0, daysBetween(from, pivot)), all);
  const split = before / all > NARROW && before < all;
  const middle = split ? left + (right - left) * NARROW : left;
  const place = (day: string) => {
    const at = daysBetween(from, day);
    if (!split) return left + ((right - left) * at) / all;
    return at <= before
      ? left + ((middle - left) * at) / before
      : middle + ((right - middle) * (at - before)) / (all - before);
  };
  const clamped = (day: string) => Math.min(right, Math.max(left, place(day)));
  return Object.assign(clamped, { left, right, from, to, wider: split ? pivot : null });
}

/** Mondays to write on the axis, from a place on, as many as there is room for. */
export function climbDates(scale: ClimbScale, from: number, room = 44): string[] {
  const out: string[] = [];
  let last = from - room;
  const begin = (8 - (new Date(`${scale.from}T00:00:00Z`).getUTCDay() || 7)) % 7;
  for (let day = plusDays(scale.from, begin); day <= scale.to; day = plusDays(day, 7)) {
    const x = scale(day);
    if (x - last < room || x > scale.right - room / 2) continue;
    out.push(day);
    last = x;
  }
  return out;
}

/** A path through values by day, broken where there is none. */
export function climbPath(
  values: (number | null)[],
  from: string,
  x: (day: string) => number,
  y: (value: number) => number,
): string {
  let pen = "M";
  let path = "";
  for (const [i, value] of values.entries()) {
    if (value === null) {
      pen = "M";
      continue;
    }
    path += `${pen}${x(plusDays(from, i + 1)).toFixed(1)} ${y(value).toFixed(1)}`;
    pen = "L";
  }
  return path;
}
