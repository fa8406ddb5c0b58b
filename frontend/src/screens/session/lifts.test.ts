import { describe, expect, it } from "vitest";
import { emptyLine, lineFrom, ofMaximum, sentLines } from "./lifts";

const line = (changes: object) => ({ ...emptyLine(), ...changes });

describe("the lines of a lifting sheet", () => {
  it("are sent with the numbers people type, comma or point", () => {
    const { items } = sentLines([
      line({ exercise: " Squat ", sets: "4", reps: "6", kg: "92,5", reserve: "2", rest: "", speed: "0.7" }),
    ]);
    expect(items).toEqual([{ exercise: "Squat", sets: 4, reps: 6, kg: 92.5, reserve: 2, bar_speed: 0.7 }]);
  });

  it("say which of their fields are missing, and keep their place", () => {
    const { items, at, wrong } = sentLines([
      line({ exercise: "Squat", sets: "4", reps: "x", kg: "" }),
      emptyLine(),
      line({ exercise: "Bench", sets: "3", reps: "8", kg: "60" }),
    ]);
    expect(wrong.get(0)).toEqual(["reps", "kg"]);
    expect([items.length, at]).toEqual([1, [2]]);
  });

  it("are not wrong while only the exercise is typed", () => {
    expect(sentLines([line({ exercise: "Squat" })])).toEqual({ items: [], at: [], wrong: new Map() });
  });

  it("come back as they were saved", () => {
    const kept = { exercise: "Squat", sets: 4, reps: 6, kg: 92.5, rest_seconds: 120 };
    expect(sentLines([lineFrom(kept)]).items).toEqual([kept]);
  });
});

it.each([
  ["80", 101, { percent: "80", kg: "81" }],
  ["82,5", 100, { percent: "82,5", kg: "82.5" }],
  ["", 100, { percent: "" }],
  ["80", undefined, { percent: "80" }],
])("%s per cent of %s kg fills in the kilograms to the half", (percent, max, filled) =>
  expect(ofMaximum(percent, max)).toEqual(filled),
);
