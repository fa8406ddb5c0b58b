/** What a block says of a week, and a dragged week as a share. */

import type { Block, BlockWant, Problem } from "../../api/client";
import { dayAndMonth } from "../../frame/days";
import * as say from "../../frame/numbers";
import { typedNumber } from "../../kit/fields";

export const LEAST_SHARE = 0.1;
export const MOST_SHARE = 3;

/** A week in words, as it is read out. */
export function weekText(week: Block["weeks"][number] | undefined): string {
  if (!week) return "";
  const parts = [`Week from ${dayAndMonth(week.first)}: load ${say.load(week.load)}`];
  if (week.lighter) parts.push("lighter");
  if (week.ceiling !== null) parts.push(`ceiling ${say.load(week.ceiling)}`);
  if (week.over > 0) parts.push(`${week.over} over`);
  return parts.join(", ");
}

/** The share that a week has to be for its load to be so much; a week without any load of its own stays. */
export function shareFor(week: { share: number; load: number }, load: number): number {
  if (week.load <= 0) return week.share;
  const share = Math.round(((week.share * load) / week.load) * 100) / 100;
  return Math.min(MOST_SHARE, Math.max(LEAST_SHARE, share));
}

/** The weeks as they are sent, with what each is for. */
export const wantedOf = (block: Block | null | undefined, goals: string[]): BlockWant[] =>
  (block?.weeks ?? []).map((one, i) => ({
    share: one.share,
    lighter: one.lighter,
    goal: goals[i] ?? one.goal,
  }));

/** A block with bars where they were dragged to, until the server says what that comes to. */
export function dragged(block: Block, wanted: BlockWant[]): Block {
  const weeks = block.weeks.map((one, i) => {
    const to = wanted[i];
    if (!to) return one;
    const load = one.share > 0 ? (one.load * to.share) / one.share : one.load;
    return { ...one, load, share: to.share, lighter: to.lighter ?? one.lighter };
  });
  return { ...block, weeks };
}

/** What is said where something else than a number is typed, by field. */
export function noNumbers(form: { weeks: string; rise: string; every: string }): Record<string, string> {
  const found: Record<string, string> = {};
  for (const name of ["weeks", "every"] as const)
    if (!Number.isInteger(typedNumber(form[name]))) found[name] = "A whole number.";
  if (!Number.isFinite(typedNumber(form.rise))) found.rise = "A number, in per cent.";
  return found;
}

/** What is wrong with a field of the form, whether it stands there by itself or with how the weeks rise. */
export const wrongAt = (wrong: Problem | null, name: string) =>
  wrong?.errors.find((one) => one.field.split(".").at(-1) === name)?.detail;
