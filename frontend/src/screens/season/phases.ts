/** Phases as they are said and typed. */

import type { Season, SeasonPhase } from "../../api/client";
import { mediumDay, plusDays } from "../../frame/days";

export const KINDS: Record<SeasonPhase["kind"], string> = {
  preparation: "preparation",
  competition: "competition",
  transition: "transition",
};

/** What stands behind the name of the phase, or in its place: its week, and what comes next. */
export function standingText({ phases, standing, next }: Season): string {
  const then = next && `${next.name} begins on ${mediumDay(next.first)}`;
  if (standing) return `, week ${standing.week} of ${standing.weeks}${then ? `; ${then}` : ""}`;
  if (phases.length === 0) return "How does the season go?";
  return then ? `No phase on this day; ${then}` : "No phase on this day";
}

/** The one that is typed next: of the kind that usually follows, from the day after the last. */
export function following(phases: SeasonPhase[], today: string): SeasonPhase {
  const last = phases.at(-1);
  const kinds = Object.keys(KINDS) as SeasonPhase["kind"][];
  const kind = kinds[last ? (kinds.indexOf(last.kind) + 1) % kinds.length : 0] ?? "preparation";
  return { kind, name: "", first: last?.last ? plusDays(last.last, 1) : today, last: "" };
}

/** What is wrong with typed phases, by field. */
export function wrongIn(phases: SeasonPhase[]): Record<string, string> {
  const wrong: Record<string, string> = {};
  phases.forEach(({ first, last }, i) => {
    if (!first) wrong[`phases.${i}.first`] = "Choose its first day.";
    if (!last) wrong[`phases.${i}.last`] = "Choose its last day.";
    else if (first && last < first) wrong[`phases.${i}.last`] = "It ends before it begins.";
  });
  return wrong;
}
