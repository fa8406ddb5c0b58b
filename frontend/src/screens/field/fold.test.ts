import { expect, test } from "vitest";
import cases from "../../../../tests/field_cases.json";
import { fold, type Noted, type Rule } from "./fold";

type Event = [string, string, number, number | null, number | null, number, string, string?];

test.each(cases)("$name", (one) => {
  const events = (one.events as Event[]).map(
    ([id, kind, at, athlete, part, amount, words, what = ""]) =>
      ({ id, kind, at, athlete, part, amount, words, what }) as Noted,
  );
  const rules = new Map(
    Object.entries(one.rules).map(([key, rule]) => [Number(key), rule as unknown as Rule]),
  );
  const { runs, spells, left, stints } = fold(events, rules, "what" in one ? one.what : undefined);
  expect(runs.map((run) => [run.part, run.begin, run.end])).toEqual(one.runs);
  const said = [...spells].map(([key, s]) => [String(key), [s.count, s.total, s.breakUntil, s.over]]);
  expect(Object.fromEntries(said)).toEqual(one.spells);
  expect(Object.fromEntries([...left].map(([key, at]) => [String(key), at]))).toEqual(one.left);
  expect(stints.map((s) => [s.athlete, s.place, s.begin, s.end])).toEqual(one.stints);
});
