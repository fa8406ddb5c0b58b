import type { CallItem, CallKind, Lane } from "../../api/client";
import { mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";

export const CALLS: { kind: CallKind; name: string }[] = [
  { kind: "full", name: "Full" },
  { kind: "adapt", name: "Adapt" },
  { kind: "minimum", name: "Minimum dose" },
  { kind: "recover", name: "Recover" },
  { kind: "rest", name: "Rest" },
  { kind: "refer", name: "Refer" },
];

export function callName(kind: CallItem["kind"]): string {
  return CALLS.find((call) => call.kind === kind)?.name ?? "Not available";
}

export const GROUPS: { code: Lane["group"]; name: string }[] = [
  { code: "call", name: "Needs a call" },
  { code: "watch", name: "Keep an eye on" },
  { code: "plan", name: "As planned" },
];

/** Lanes as they stand on the desk: by group, and those whose plan is furthest over their room first. */
export function inOrder(lanes: Lane[]): Lane[] {
  const over = (lane: Lane) => (lane.room.load === null ? 0 : Math.max(lane.room.plan - lane.room.load, 0));
  return GROUPS.flatMap((group) =>
    lanes.filter((lane) => lane.group === group.code).sort((a, b) => over(b) - over(a)),
  );
}

/** The whole strip in a sentence, for those who do not see it. */
export function stripSentence(lane: Lane, today: number): string {
  const week = lane.strip.week[today - 1];
  const ceiling = lane.strip.ceiling[today - 1];
  const floor = lane.strip.floor[today - 1];
  const parts = [week == null ? "Week load not known" : `Week load ${say.load(week)}`];
  if (floor != null && ceiling != null) parts.push(`corridor ${say.load(floor)} to ${say.load(ceiling)}`);
  else if (ceiling != null) parts.push(`ceiling ${say.load(ceiling)}`);
  const missing = lane.strip.state.filter((state) => state === "missing").length;
  if (missing) parts.push(`${missing} ${missing === 1 ? "day" : "days"} without a rating`);
  return `${parts.join(", ")}.`;
}

export function roomText(lane: Lane): string {
  if (lane.room.load === null) return "–";
  // With some limits at rest, what the others leave is an upper bound.
  return (lane.room.resting && lane.room.load > 0 ? "≤\u2009" : "") + say.room(lane.room.load);
}

export function reviewText(call: CallItem): string {
  return call.review_on ? `review ${mediumDay(call.review_on)}` : "";
}
