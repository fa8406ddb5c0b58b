import { expect, it } from "vitest";
import type { Block, Problem } from "../../api/client";
import { dragged, noNumbers, shareFor, wantedOf, weekText, wrongAt } from "./blockStates";

const week = (more: Partial<Block["weeks"][number]> = {}) => ({
  first: "2026-03-16",
  share: 1,
  lighter: false,
  goal: "",
  load: 2000,
  base: 1900,
  balance: 10,
  ceiling: 2300,
  floor: null,
  over: 0,
  names: [],
  ...more,
});

it("reads a week out, with what is to be said of it", () => {
  expect(weekText(week())).toBe("Week from 16 Mar: load 2\u2009000, ceiling 2\u2009300");
  expect(weekText(week({ lighter: true, ceiling: null, over: 3 }))).toBe(
    "Week from 16 Mar: load 2\u2009000, lighter, 3 over",
  );
  expect(weekText(undefined)).toBe("");
});

it("turns a dragged load into a share that can be planned", () => {
  expect(shareFor({ share: 1, load: 2000 }, 2500)).toBe(1.25);
  expect(shareFor({ share: 0.6, load: 1200 }, 1000)).toBe(0.5);
  expect(shareFor({ share: 1, load: 2000 }, 90_000)).toBe(3);
  expect(shareFor({ share: 1, load: 2000 }, 0)).toBe(0.1);
  expect(shareFor({ share: 0.7, load: 0 }, 900)).toBe(0.7);
});

it("sends goals as they are typed, else as they came", () => {
  const block = { weeks: [week({ goal: "base" }), week({ share: 0.6, lighter: true })] } as Block;
  expect(wantedOf(block, ["", "rest"])).toEqual([
    { share: 1, lighter: false, goal: "" },
    { share: 0.6, lighter: true, goal: "rest" },
  ]);
  expect(wantedOf(block, [])[0]?.goal).toBe("base");
  expect(wantedOf(null, [])).toEqual([]);
});

it("lets a bar go with the hand, and leaves what it comes to as it was said", () => {
  const block = { weeks: [week(), week({ over: 2 })] } as Block;
  const found = dragged(block, [
    { share: 1.1, lighter: false },
    { share: 0.6, lighter: true },
  ]);
  expect(found.weeks.map((one) => [Math.round(one.load), one.share, one.lighter, one.over])).toEqual([
    [2200, 1.1, false, 0],
    [1200, 0.6, true, 2],
  ]);
  expect(dragged(block, []).weeks).toEqual(block.weeks);
});

it("says what is wrong at its field", () => {
  const wrong = { errors: [{ field: "rising.rise", detail: "a number" }] } as Problem;
  expect(wrongAt(wrong, "rise")).toBe("a number");
  expect(wrongAt(wrong, "weeks")).toBeUndefined();
  expect(wrongAt(null, "rise")).toBeUndefined();
});

it("asks for numbers where there are none, each at its field", () => {
  expect(noNumbers({ weeks: "12", rise: "2,5", every: "0" })).toEqual({});
  expect(noNumbers({ weeks: "1.5", rise: "five", every: "" })).toEqual({
    weeks: "A whole number.",
    rise: "A number, in per cent.",
    every: "A whole number.",
  });
});
