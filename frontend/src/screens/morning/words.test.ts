import { describe, expect, it } from "vitest";
import type { Lane, NoticeItem, Turned } from "../../api/client";
import { lane } from "../../test/lane";
import { awaited } from "./call";
import {
  adaptText,
  callName,
  inOrder,
  nothingText,
  orderOf,
  planNeeds,
  planText,
  REGION,
  reviewText,
  roomText,
  shown,
  stateText,
  storiesOf,
  stripSentence,
  turnedText,
} from "./words";

describe("lanes", () => {
  it("stand by what they need, and those furthest over their room first", () => {
    const lanes = [
      lane("A"),
      lane("B", { group: "call" }, { load: 250 }),
      lane("C", { group: "watch" }),
      lane("D", { group: "call" }, { load: 100 }),
      lane("E", { group: "call" }, { load: null }),
    ];
    expect(inOrder(lanes).map((one) => one.name)).toEqual(["D", "B", "E", "C", "A"]);
  });

  it("stand by how much there is of their state to ask about, before how far the plan is over", () => {
    const state = (severity: NoticeItem["severity"], more = {}) =>
      notice({ strand: "state", severity, ...more });
    const lanes = [
      lane("A", { group: "call", notices: [notice({ severity: "act" }), state("act")] }, { load: 0 }),
      lane("B", { group: "call", notices: [state("act"), state("watch"), state("note")] }),
      lane("C", {
        group: "change",
        notices: [state("watch"), state("watch"), state("watch"), state("watch")],
      }),
      lane("D", { group: "call", notices: [state("act"), state("act", { quiet: true })] }, { load: 100 }),
    ];
    expect(inOrder(lanes).map((one) => one.name)).toEqual(["B", "A", "D", "C"]);
  });

  it("say how many there are to talk to, and how many plans to change", () => {
    expect([0, 1, 5].map(stateText)).toEqual([
      "Nobody’s state needs a call.",
      "1 person’s state needs a call.",
      "5 people’s state needs a call.",
    ]);
    expect([1, 2].map(planNeeds)).toEqual(["1 plan needs a change.", "2 plans need a change."]);
  });

  it("say room, an upper bound where limits rest, and nothing where there is no figure", () => {
    expect(roomText(lane("A", {}, { load: 1100.6 }))).toBe("1\u2009100");
    expect(roomText(lane("A", {}, { load: 1100, resting: "the week cap" }))).toBe("≤\u20091\u2009100");
    expect(roomText(lane("A", {}, { load: 0, resting: "the week cap" }))).toBe("0");
    expect(roomText(lane("A", {}, { load: null }))).toBe("–");
  });

  it("say the strip in a sentence", () => {
    expect(stripSentence(lane("A"), 1)).toBe("Week load 2\u2009400, corridor 1\u2009800 to 2\u2009454.");
    const unknown = lane("A");
    unknown.strip.week[0] = null;
    unknown.strip.state[0] = "missing";
    expect(stripSentence(unknown, 1)).toContain("Week load not known");
    expect(stripSentence(unknown, 1)).toContain("1 day without a rating");
  });

  it("stand by name, by position or by room, when that is asked for", () => {
    const lanes = [
      lane("C", { position: "back" }, { load: 300 }),
      lane("A", { position: "wing" }, { load: null }),
      lane("B", { position: "back" }, { load: 100 }),
    ];
    const names = (order: string | null) => inOrder(lanes, orderOf(order)).map((one) => one.name);
    expect(names("name")).toEqual(["A", "B", "C"]);
    expect(names("position")).toEqual(["B", "C", "A"]);
    expect(names("room")).toEqual(["B", "C", "A"]);
    expect(names("by the moon")).toEqual(names(null));
  });

  it("say how a day is adapted, and when to look again", () => {
    const draft = { reason: "", review: "2026-03-14", minutes: "45", cap: "6,5", content: "no jumps" };
    const call = awaited({ ...draft, kind: "adapt" }, new Date());
    expect(adaptText({ ...call, above_room: true })).toBe("45 min, effort at most 6.5, no jumps, above room");
    expect(
      adaptText(awaited({ ...draft, kind: "adapt", minutes: "0", cap: "", content: "" }, new Date())),
    ).toBe("0 min");
    expect(reviewText(call)).toBe("review Sat 14 March");
    expect(reviewText({ ...call, review_on: null })).toBe("");
  });

  it("name a call, and one that may not be known as not available", () => {
    expect(callName("minimum")).toBe("Minimum dose");
    expect(callName("unavailable")).toBe("Not available");
  });
});

const notice = (changes: Partial<Lane["notices"][number]> = {}): Lane["notices"][number] => ({
  code: "limit_broken",
  shape: "over",
  severity: "act",
  title: "",
  sentence: "",
  clears: "",
  provenance: "",
  channel: "",
  regions: [],
  about: "",
  figure: null,
  value: null,
  unit: null,
  cause: "load",
  strand: "plan",
  quiet: false,
  new: false,
  ...changes,
});

describe("a filter", () => {
  const lanes = [
    lane("A", { group: "call", notices: [notice({ channel: "Throws", regions: ["shoulder"] })] }),
    lane("B", { position: "wing", notices: [notice({ new: true, quiet: true })] }),
    lane("C", { notices: [notice({ new: true, cause: "data" })] }),
  ];
  const names = (filter: string | null) => shown(lanes, filter).map((one) => one.name);

  it("shows who needs a call, has something new, or misses something", () => {
    expect(names(null)).toEqual(["A", "B", "C"]);
    expect(names("open")).toEqual(["A"]);
    // What a call has answered is not new to anybody.
    expect(names("new")).toEqual(["C"]);
    expect(names("missing")).toEqual(["C"]);
  });

  it("shows one position, or what was noticed of a region", () => {
    expect(names("wing")).toEqual(["B"]);
    expect(names(`${REGION}shoulder`)).toEqual(["A"]);
    expect(names(`${REGION}knee`)).toEqual([]);
  });
});

describe("stories", () => {
  it("join notices of one cause on one kind of work, and name the regions it stresses", () => {
    const told = storiesOf([
      notice({ sentence: "1" }),
      notice({ sentence: "2", channel: "Throws", regions: ["shoulder", "elbow and wrist"] }),
      notice({ sentence: "3" }),
      notice({ sentence: "4", cause: "reports" }),
    ]);
    expect(told.map((story) => [story.name, story.regions, story.notices.length])).toEqual([
      ["Load", "", 2],
      ["Throws", "shoulder, elbow and wrist", 1],
      ["Reports", "", 1],
    ]);
  });
});

describe("what came of a call", () => {
  const turned = (changes: Partial<Turned>): Turned =>
    ({ called: 300, done: 300, kept: "kept", after: "", ...changes }) as Turned;

  it("is said in words", () => {
    expect(turnedText(turned({}))).toBe("called 300, done 300: as called");
    expect(turnedText(turned({ done: 450, kept: "harder" }))).toBe(
      "called 300, done 450: felt harder than called",
    );
    expect(turnedText(turned({ done: null, kept: "", after: "" }))).toBe("Nothing is known of it yet");
    expect(turnedText(turned({ after: "no report two mornings later" }))).toContain("; no report");
  });
});

describe("what stands of today's plan", () => {
  it("is the plan as it was written", () => {
    expect(planText(lane("A", {}, { plan_words: "plan fits, 100 to spare" }))).toBe(
      "The plan for today is 300.",
    );
  });
  it("is what a call has left of it", () => {
    const words = "after the call 96 (was 300)";
    expect(planText(lane("A", { stands: "part" }, { plan: 96, plan_words: words }))).toBe(
      "After the call 96 (was 300).",
    );
  });
  it("is nothing on a closed day, and asked about where something was told", () => {
    const closed = { plan: 0, closed: true, plan_words: "the plan, 300, does not stand" };
    expect(planText(lane("A", { stands: "wait" }, closed))).toBe("The plan, 300, does not stand.");
    expect(planText(lane("A", { stands: "ask" }, { plan_words: "plan 300, ask first" }))).toBe(
      "Plan 300, ask first.",
    );
  });
});

describe("a lane without notices", () => {
  it("says that the rules found nothing, and not more than that", () => {
    expect(nothingText(lane("A"))).toBe("Nothing to notice: no rule has found anything.");
  });
  it("says on the first day that nothing is recorded yet", () => {
    const strip = { ...lane("A").strip, state: ["before", "planned"] as ("before" | "planned")[] };
    expect(nothingText({ strip })).toBe("Nothing to notice yet: nothing is recorded.");
  });
});
