import { expect, test } from "vitest";
import type { ReturnRow } from "../../api/client";
import { beside, chosenOf, grouped, isComing, minutesSaid, oftenSaid, typedSteps } from "./returnStates";

const row = (plan_id: string, group = plan_id) => ({ plan_id, group }) as ReturnRow;

test("a squad's break stands as one row, a few with the same days stand alone", () => {
  const many = ["a", "b", "c", "d"].map((one) => row(one, "summer"));
  expect(grouped([row("x"), ...many]).map(({ key, rows }) => [key, rows.length])).toEqual([
    ["x", 1],
    ["summer", 4],
  ]);
  expect(grouped(many.slice(1)).map(({ rows }) => rows.length)).toEqual([1, 1, 1]);
});

test("what the address names is chosen, else the first; the keys stay within the list", () => {
  const rows = [row("a"), row("b")];
  expect(chosenOf(rows, "b")).toBe(rows[1]);
  expect(chosenOf(rows, "gone")).toBe(rows[0]);
  const named = [row("a"), { ...row("b"), athlete_id: 7 }];
  expect(chosenOf(named, null, "7")).toBe(named[1]);
  expect(chosenOf(named, "a", "7")).toBe(named[0]);
  expect(chosenOf([], null)).toBeUndefined();
  expect(beside(rows, rows[0], 1)).toBe(rows[1]);
  expect(beside(rows, rows[1], 1)).toBe(rows[1]);
  expect(beside(rows, rows[0], -1)).toBe(rows[0]);
});

test("minutes of matches are said against the whole of one", () => {
  const match = (minutes: number) => ({ session_id: "", name: "", day: "", minutes, whole: 52 });
  expect(minutesSaid({ matches: [match(20), match(45)] })).toBe("20, 45 of 52 min");
  expect(minutesSaid({ matches: [] })).toBe("");
});

test("steps are read however they are set apart", () => {
  expect(typedSteps("50, 70 100")).toEqual([50, 70, 100]);
  expect(typedSteps("50; x")).toBeNull();
  expect(typedSteps("50, 120")).toBeNull();
  expect(typedSteps(" ")).toBeNull();
});

test("how often something comes is said with its interval, or that there is nothing to count by", () => {
  const some = { n: 3, days_lost: 41, hours: 2500, rate: 1.2, low: 0.25, high: 3.5, days_rate: 16.4 };
  expect(oftenSaid(some)).toBe("3, 1.2 per 1,000 h (0.3 to 3.5, 95 %); 41 days lost, 16 per 1,000 h.");
  expect(oftenSaid({ ...some, rate: null, low: null, high: null, days_rate: null })).toBe(
    "3, and no hour to count them by.",
  );
});

test("a plan that was just begun is waited for, and one that is gone is not", () => {
  expect(isComing([row("a")], "b", true)).toBe(true);
  expect(isComing([row("a")], "b", false)).toBe(false);
  expect(isComing([row("a")], "a", true)).toBe(false);
  expect(isComing([row("a")], null, true)).toBe(false);
});
