import type { CallItem, CallKind, Lane, NoticeItem, Turned } from "../../api/client";
import { mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";

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
  { code: "call", name: "State needs a call" },
  { code: "change", name: "Plan needs a change" },
  { code: "called", name: "Called" },
  { code: "watch", name: "Keep an eye on" },
  { code: "plan", name: "As planned" },
];

/** How many people there are to talk to. */
export function stateText(open: number): string {
  if (open === 0) return "Nobody’s state needs a call.";
  return open === 1 ? "1 person’s state needs a call." : `${open} people’s state needs a call.`;
}

/** For how many the plan alone is to be changed. */
export const planNeeds = (open: number) => `${open === 1 ? "1 plan needs" : `${open} plans need`} a change.`;

/** How someone stands without a call, in a word. */
export const STANDS: Record<Lane["stands"], string> = {
  plan: "by plan",
  ask: "ask first",
  part: "in part",
  recover: "recovery",
  rest: "rest",
  out: "out",
  wait: "waits",
};

/** How lanes can be ordered; by need they stand in groups. */
export const ORDERS = {
  need: "what they need",
  name: "name",
  room: "least room",
  position: "position",
} as const;
export type Order = keyof typeof ORDERS;

export function orderOf(text: string | null): Order {
  return text !== null && text in ORDERS ? (text as Order) : "need";
}

/** How much there is of somebody's state to ask about: what asks for a call twice, what is watched once. */
export function evidenceOf(lane: Lane): number {
  const weight = { act: 2, watch: 1, note: 0 };
  const state = lane.notices.filter((notice) => notice.strand === "state" && !notice.quiet);
  return state.reduce((sum, notice) => sum + weight[notice.severity], 0);
}

/** Lanes as they stand on the desk: by group, most evidence first, then those furthest over their room. */
export function inOrder(lanes: Lane[], order: Order = "need"): Lane[] {
  const over = (lane: Lane) => (lane.room.load === null ? 0 : Math.max(lane.room.plan - lane.room.load, 0));
  const byName = (a: Lane, b: Lane) => a.name.localeCompare(b.name);
  if (order === "name") return [...lanes].sort(byName);
  if (order === "position")
    return [...lanes].sort((a, b) => a.position.localeCompare(b.position) || byName(a, b));
  // A closed day leaves less than none; a day without a figure is not known to leave little.
  const left = (lane: Lane) => (lane.room.closed ? -1 : (lane.room.load ?? Infinity));
  if (order === "room") return [...lanes].sort((a, b) => left(a) - left(b) || byName(a, b));
  return GROUPS.flatMap((group) =>
    lanes
      .filter((lane) => lane.group === group.code)
      .sort((a, b) => evidenceOf(b) - evidenceOf(a) || over(b) - over(a)),
  );
}

/** Before the name of a region of the body, in a filter. */
export const REGION = "region:";

/** Who is shown: everyone, those with something new, those without a call, one position, or one region's notices. */
export function shown(lanes: Lane[], filter: string | null): Lane[] {
  if (!filter) return lanes;
  if (filter === "new")
    return lanes.filter((lane) => lane.notices.some((notice) => notice.new && !notice.quiet));
  if (filter === "open") return lanes.filter((lane) => lane.group === "call");
  if (filter === "change") return lanes.filter((lane) => lane.group === "change");
  if (filter === "missing")
    return lanes.filter((lane) => lane.notices.some((notice) => notice.cause === "data"));
  if (filter.startsWith(REGION)) {
    const region = filter.slice(REGION.length);
    return lanes.filter((lane) => lane.notices.some((notice) => notice.regions.includes(region)));
  }
  return lanes.filter((lane) => lane.position === filter);
}

export const CAUSES: Record<NoticeItem["cause"], string> = {
  load: "Load",
  base: "Base",
  reports: "Reports",
  tests: "Tests",
  clinical: "Clinical",
  data: "Missing",
  review: "To look at again",
};

export interface Story {
  key: string;
  name: string;
  /** Of the body, where the work stresses some more than others. */
  regions: string;
  notices: NoticeItem[];
}

/** An athlete's notices joined up: those of one cause on one kind of work are one story. */
export function storiesOf(notices: NoticeItem[]): Story[] {
  const stories = new Map<string, Story>();
  for (const notice of notices) {
    const key = `${notice.cause} ${notice.channel}`;
    const story = stories.get(key);
    if (story) story.notices.push(notice);
    else
      stories.set(key, {
        key,
        name: notice.channel || CAUSES[notice.cause],
        regions: notice.regions.join(", "),
        notices: [notice],
      });
  }
  return [...stories.values()];
}

/** What an adapted day comes to, in words. */
export function adaptText(call: CallItem): string {
  const parts = [
    call.minutes === null ? "" : `${say.short(call.minutes)} min`,
    call.effort_cap === null ? "" : `effort at most ${say.short(call.effort_cap)}`,
    call.content ?? "",
    call.above_room ? "above room" : "",
  ];
  return parts.filter(Boolean).join(", ");
}

/** The whole strip in a sentence, for those who do not see it. */
export function stripSentence(lane: Lane, today: number): string {
  const week = lane.strip.week[today - 1];
  const ceiling = lane.strip.ceiling[today - 1];
  const floor = lane.strip.floor[today - 1];
  const parts = [week == null ? "Week load not known" : `Week load ${say.load(week)}`];
  if (floor != null && ceiling != null) parts.push(`corridor ${say.load(floor)} to ${say.load(ceiling)}`);
  else if (ceiling != null) parts.push(`ceiling ${say.load(ceiling)}`);
  if (lane.strip.torn) parts.push(`no week load holds both ${lane.strip.torn}`);
  const missing = lane.strip.state.filter((state) => state === "missing").length;
  if (missing) parts.push(`${missing} ${missing === 1 ? "day" : "days"} without a rating`);
  return `${parts.join(", ")}.`;
}

/** What stands of today's plan, as a sentence. */
export function planText({ room, stands }: Pick<Lane, "room" | "stands">): string {
  const whole = Math.abs(room.plan - room.written) < 0.5 && stands !== "ask";
  const words = room.plan_words;
  return whole
    ? `The plan for today is ${say.load(room.written)}.`
    : `${words.charAt(0).toUpperCase()}${words.slice(1)}.`;
}

export function roomText(lane: Lane): string {
  if (lane.room.closed) return "closed";
  if (lane.room.load === null) return "–";
  // With some limits at rest, what the others leave is an upper bound.
  return (lane.room.resting && lane.room.load > 0 ? "≤\u2009" : "") + say.room(lane.room.load);
}

/** Whether a past morning is read with only what had been entered by then. */
export const isKnown = (place: Place) => place.get("known") === "1" && place.day < place.squad.today;

const TURNED: Record<Turned["kept"], string> = {
  kept: ": as called",
  harder: ": felt harder than called",
  more: ": more than called",
  less: ": less than called",
  "": "",
};

/** What came of a call, in words. */
export function turnedText(one: Turned): string {
  const loads =
    one.called === null || one.done === null
      ? ""
      : `called ${say.load(one.called)}, done ${say.load(one.done)}${TURNED[one.kept]}`;
  return [loads, one.after].filter(Boolean).join("; ") || "Nothing is known of it yet";
}

export function reviewText(call: CallItem): string {
  return call.review_on ? `review ${mediumDay(call.review_on)}` : "";
}

/** What stands where nothing was noticed: of somebody of whom nothing is recorded yet that says little. */
export function nothingText(lane: Pick<Lane, "strip">): string {
  const begun = lane.strip.state.some((state) => state !== "before" && state !== "planned");
  return begun
    ? "Nothing to notice: no rule has found anything."
    : "Nothing to notice yet: nothing is recorded.";
}
