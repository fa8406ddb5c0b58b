import { describe, expect, it } from "vitest";
import { readyToSend, type Typed, typedFrom } from "./settings";

/** A form as it opens, with what was typed into it since. */
const typed = (form: string, changes: Partial<Typed> = {}): Typed => ({
  ...typedFrom(form, undefined),
  ...changes,
});
const row = (name: string, weight: string, code = "") => ({ key: 0, code, name, weight });

describe("settings as they come back", () => {
  it("are the same when nothing was typed", () => {
    const kinds: [string, Record<string, unknown>][] = [
      [
        "counted",
        {
          classes: [
            { code: "full", name: "full", weight: 1 },
            { code: "easy", name: "easy", weight: 0.5 },
          ],
        },
      ],
      [
        "counted",
        { classes: [], surfaces: [{ code: "sand", name: "sand", weight: 1.2 }], places: { Hall: 0.95 } },
      ],
      ["heart_rate", { method: "three_zones", places: { Trail: 1.1 } }],
      ["lifting", { measure: "tonnage" }],
      ["position", { measure: "distance_above", speed: 5.5 }],
      ["position", { measure: "sprints", share: 0.85 }],
      ["impacts", { measure: "load", side: "left", edges: [2, 4, 6], weights: [1, 2, 3.5] }],
    ];
    for (const [form, given] of kinds) expect(readyToSend(form, typedFrom(form, given))).toEqual(given);
  });
});

describe("settings as they are typed", () => {
  it("are numbers with a point or a comma, and the text itself where they are none", () => {
    const sent = readyToSend(
      "counted",
      typed("counted", { classes: [row("Full throw", "1,5"), row("soft", "much")] }),
    );
    expect(sent.classes).toEqual([
      { code: "full throw", name: "Full throw", weight: 1.5 },
      { code: "soft", name: "soft", weight: "much" },
    ]);
  });

  it("keep the code of a class that is only renamed", () => {
    const sent = readyToSend("counted", typed("counted", { classes: [row("Hard", "1", "full")] }));
    expect(sent.classes).toEqual([{ code: "full", name: "Hard", weight: 1 }]);
  });

  it("leave empty rows out, and rows half filled in", () => {
    const classes = [row(" ", ""), row("full", ""), row("", "2")];
    expect(readyToSend("counted", typed("counted", { classes })).classes).toEqual([
      { code: "full", name: "full", weight: "" },
      { code: "", name: "", weight: 2 },
    ]);
    expect(readyToSend("counted", typed("counted"))).not.toHaveProperty("surfaces");
  });

  it("have a share in percent, or else a speed, and neither for what has no threshold", () => {
    expect(readyToSend("position", typed("position", { share: "85", speed: "" }))).toMatchObject({
      share: 0.85,
    });
    expect(readyToSend("position", typed("position", { share: "85" }))).not.toHaveProperty("speed");
    expect(readyToSend("position", typed("position", { speed: "6,2" }))).toMatchObject({ speed: 6.2 });
    expect(readyToSend("position", typed("position", { measure: "distance" }))).toEqual({
      measure: "distance",
    });
    expect(readyToSend("position", typed("position", { share: "most" }))).toMatchObject({ share: "most" });
  });

  it("have lists apart by spaces or semicolons, so that a comma stays a decimal", () => {
    const sent = readyToSend("impacts", typed("impacts", { edges: "2; 4,5 6", weights: " 1 2;x " }));
    expect(sent).toMatchObject({ edges: [2, 4.5, 6], weights: [1, 2, "x"], side: "both" });
  });

  it("have factors only of places that have one", () => {
    const places = { Hall: "0,9", Sand: " ", Snow: "slow" };
    expect(readyToSend("heart_rate", typed("heart_rate", { places }))).toEqual({
      method: "banister",
      places: { Hall: 0.9, Snow: "slow" },
    });
  });

  it("do not lose digits of a share on the way", () => {
    expect(typedFrom("position", { measure: "sprints", share: 0.57 }).share).toBe("57");
    expect(typedFrom("position", { measure: "sprints", share: 0.855 }).share).toBe("85.5");
  });
});
