/** How the plans to come back are grouped, and what is said of them. */

import type { Cases, ReturnRow, ReturnWay } from "../../api/client";

export const STATES = [
  ["short", "Date does not fit"],
  ["waits", "Waits for something"],
  ["way", "On the way"],
  ["ahead", "Ahead"],
] as const;

/** So many with the same days are shown as one. */
const TOGETHER = 4;

export interface Grouped {
  key: string;
  rows: ReturnRow[];
}

/** Rows in their order, those of a squad's break that stand alike as one. */
export function grouped(rows: ReturnRow[]): Grouped[] {
  const by = new Map<string, ReturnRow[]>();
  for (const row of rows) by.set(row.group, [...(by.get(row.group) ?? []), row]);
  return [...by.entries()].flatMap(([key, mine]) =>
    mine.length >= TOGETHER ? [{ key, rows: mine }] : mine.map((row) => ({ key: row.plan_id, rows: [row] })),
  );
}

/** The one that is chosen: the plan or the athlete that the address says, else the first. */
export function chosenOf(
  rows: ReturnRow[],
  plan: string | null,
  athlete: string | null = null,
): ReturnRow | undefined {
  return (
    rows.find((row) => row.plan_id === plan) ??
    rows.find((row) => String(row.athlete_id) === athlete) ??
    rows[0]
  );
}

/** Whether the plan that the address names is still on its way: nobody else's is shown in its place meanwhile. */
export const isComing = (rows: ReturnRow[], plan: string | null, reading: boolean) =>
  reading && plan !== null && !rows.some((row) => row.plan_id === plan);

/** The next one, or the one before; the same at either end. */
export function beside(
  rows: ReturnRow[],
  chosen: ReturnRow | undefined,
  step: number,
): ReturnRow | undefined {
  const at = rows.findIndex((row) => row.plan_id === chosen?.plan_id);
  return rows[Math.min(Math.max(at + step, 0), rows.length - 1)];
}

/** What stands in each line of a way, so that three can be compared. */
export const WAY_LINES = [
  ["load", "Load then"],
  ["held", "Held work"],
  ["costs", "Costs"],
  ["needs", "Needs"],
] as const satisfies readonly (readonly [keyof ReturnWay, string])[];

/** Minutes of matches as they are laid out, such as "20, 30, 45 of 52 min". */
export function minutesSaid(way: Pick<ReturnWay, "matches">): string {
  const whole = way.matches[0]?.whole;
  return whole === undefined ? "" : `${way.matches.map(({ minutes }) => minutes).join(", ")} of ${whole} min`;
}

/** Steps as they are typed, such as "50, 70, 100"; null where they are none, or there is nothing. */
export function typedSteps(text: string): number[] | null {
  const steps = text
    .split(/[,;\s]+/)
    .filter(Boolean)
    .map(Number);
  return steps.length > 0 && steps.every((one) => one > 0 && one <= 100) ? steps : null;
}

/** How often something comes, such as "3, 1.2 per 1,000 h (0.2 to 3.5); 41 days lost, 16 per 1,000 h". */
export function oftenSaid(of: Cases["injuries"]): string {
  if (of.rate === null || of.low === null || of.high === null)
    return `${of.n}, and no hour to count them by.`;
  const days = `${of.days_lost} days lost, ${Math.round(of.days_rate ?? 0)} per 1,000 h`;
  return `${of.n}, ${of.rate.toFixed(1)} per 1,000 h (${of.low.toFixed(1)} to ${of.high.toFixed(1)}, 95 %); ${days}.`;
}
