import { expect, test } from "vitest";
import type { SeasonPhase } from "../../api/client";
import { following, standingText, wrongIn } from "./phases";

const summer: SeasonPhase = { kind: "preparation", name: "Summer", first: "2026-07-01", last: "2026-08-31" };
const league: SeasonPhase = { kind: "competition", name: "League", first: "2026-09-01", last: "2027-05-31" };
const season = { phases: [summer, league], edition: "A", standing: null, next: null };

test("a day says its phase, its week, and what comes next", () => {
  const standing = { phase: summer, week: 2, weeks: 9 };
  expect(standingText({ ...season, standing, next: league })).toBe(
    ", week 2 of 9; League begins on Tue 1 September",
  );
  expect(standingText({ ...season, standing })).toBe(", week 2 of 9");
});

test("a day between phases says so, and a squad without any is asked", () => {
  expect(standingText({ ...season, next: league })).toBe(
    "No phase on this day; League begins on Tue 1 September",
  );
  expect(standingText(season)).toBe("No phase on this day");
  expect(standingText({ ...season, phases: [] })).toBe("How does the season go?");
});

test("the next one follows the last by a day, with the kind that usually comes", () => {
  expect(following([], "2026-07-01")).toMatchObject({ kind: "preparation", first: "2026-07-01" });
  expect(following([summer], "2026-07-01")).toMatchObject({ kind: "competition", first: "2026-09-01" });
  expect(
    following([summer, league, { ...league, kind: "transition", last: "" }], "2026-07-02"),
  ).toMatchObject({
    kind: "preparation",
    first: "2026-07-02",
  });
});

test("what is missing or runs back is said at its field", () => {
  expect(wrongIn([summer, { ...league, first: "", last: "" }])).toEqual({
    "phases.1.first": "Choose its first day.",
    "phases.1.last": "Choose its last day.",
  });
  expect(wrongIn([{ ...summer, last: "2026-06-30" }])).toEqual({
    "phases.0.last": "It ends before it begins.",
  });
});
