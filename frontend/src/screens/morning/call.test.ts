import { describe, expect, it } from "vitest";
import type { CallItem, Lane } from "../../api/client";
import { lane } from "../../test/lane";
import { adaptedLoad, awaited, bodyOf, type Draft, drafted, fitting } from "./call";

const draft = (changes: Partial<Draft> = {}): Draft => ({
  kind: "adapt",
  reason: "",
  review: "2026-03-13",
  minutes: "",
  cap: "",
  content: "",
  ...changes,
});

const other = (name: string, load: number | null, plan: number): Lane["others"][number] => ({
  code: name.toLowerCase(),
  name,
  mark: "throw",
  unit: "throws",
  room: { ...lane("A").room, load, plan },
});

describe("an adapted day", () => {
  it("has the minutes that fit the room at the planned effort, rounded down to 5", () => {
    // 300 in 60 min is 5 a minute: 137 leaves 27 min.
    expect(fitting(lane("A", {}, { load: 137 })).minutes).toBe("25");
    expect(fitting(lane("A", {}, { load: 4 })).minutes).toBe("0");
  });

  it("is never longer than the plan", () => {
    expect(fitting(lane("A", {}, { load: 2000 })).minutes).toBe("60");
  });

  it("has no minutes where there is no room to go by, or no plan", () => {
    expect(fitting(lane("A", {}, { load: null })).minutes).toBe("");
    expect(fitting(lane("A", { minutes: 0 })).minutes).toBe("");
    expect(fitting(lane("A", {}, { written: 0 })).minutes).toBe("");
  });

  it("leaves out what other kinds of work have no room for", () => {
    const others = [other("Throws", 0.4, 60), other("Jumps", 12, 30), other("Sprints", 500, 30)];
    // What a clinician leaves out is said everywhere already.
    const one = lane("A", { gate: "no contact until Sat 14 March", others });
    expect(fitting(one).content).toBe("no throws, jumps at most 12");
  });

  it("fits what limits leave, whatever was called before", () => {
    const rested = lane("A", { leaves: 400 }, { load: null, closed: true, plan: 0 });
    expect(fitting(rested).minutes).toBe("60");
    expect(fitting(lane("A", { leaves: null }, { load: null, closed: true })).minutes).toBe("");
  });

  it("comes to its minutes at the planned effort, or at the effort it is held to", () => {
    expect(adaptedLoad(draft({ minutes: "40" }), lane("A"))).toBe(200);
    expect(adaptedLoad(draft({ minutes: "40", cap: "3" }), lane("A"))).toBe(120);
    expect(adaptedLoad(draft({ minutes: "40", cap: "9" }), lane("A"))).toBe(200);
    expect(adaptedLoad(draft({ minutes: "forty" }), lane("A"))).toBeNull();
  });

  it("without planned minutes is at the effort of the session", () => {
    expect(adaptedLoad(draft({ minutes: "30" }), lane("A", { minutes: 0, effort: 6 }))).toBe(180);
  });
});

describe("a draft", () => {
  it("begins with a review tomorrow", () => {
    expect(drafted("rest", "2026-02-28", undefined, lane("A"))).toEqual(
      draft({ kind: "rest", review: "2026-03-01" }),
    );
  });

  it("keeps reason and review date when another kind is chosen, and adapts anew", () => {
    const before = draft({ reason: "heavy legs", review: "2026-03-20", minutes: "10", content: "no jumps" });
    const rest = drafted("rest", "2026-03-12", before, lane("A"));
    expect(rest).toEqual(draft({ kind: "rest", reason: "heavy legs", review: "2026-03-20" }));
    expect(drafted("adapt", "2026-03-12", rest, lane("A", {}, { load: 200 })).minutes).toBe("40");
  });

  it("adapts nobody in particular where several are called", () => {
    expect(drafted("adapt", "2026-03-12", undefined, null).minutes).toBe("");
  });
});

describe("what is sent", () => {
  const standing: CallItem = { ...awaited(draft(), new Date("2026-03-12T07:00:00Z")), id: "OLD" };

  it("has numbers, and nothing where nothing was typed", () => {
    const body = bodyOf(
      { draft: draft({ minutes: "40", content: "" }), sure: false },
      lane("A"),
      "2026-03-12",
    );
    expect(body).toMatchObject({ minutes: 40, effort_cap: null, content: null, replaces: null, sure: false });
    expect(body.day).toBe("2026-03-12");
    expect(body.id).toHaveLength(26);
  });

  it("gives way only to the call it was typed against, or to the one that was asked for", () => {
    const called = lane("A", { call: standing });
    expect(bodyOf({ draft: draft(), sure: true }, called, "2026-03-12").replaces).toBe("OLD");
    expect(bodyOf({ draft: draft(), sure: true, replaces: "THEIRS" }, called, "2026-03-12").replaces).toBe(
      "THEIRS",
    );
  });

  it("is shown as being saved until the server has answered", () => {
    const shown = awaited(draft({ cap: "4,5", reason: "sore" }), new Date("2026-03-12T07:00:00Z"));
    expect(shown).toMatchObject({ made_by: "saving …", effort_cap: 4.5, reason: "sore", id: "" });
  });
});
