// @vitest-environment jsdom

import { expect, test } from "vitest";
import { rebased } from "./outbox";

const answer = {
  rows: [
    { athlete_id: 1, version: 4, works: [{ what: "counted", version: 7 }] },
    { athlete_id: 2, version: null, works: [] },
  ],
};

test("what is still to be sent follows on the version that was just saved", () => {
  const ratings = { changes: [{ athlete_id: 1, minutes: 60, version: 3 }] };
  expect(rebased(ratings, answer)).toEqual({ changes: [{ athlete_id: 1, minutes: 60, version: 4 }] });
  const counts = { changes: [{ athlete_id: 1, what: "counted", data: {}, version: null }] };
  expect(rebased(counts, answer)).toEqual({
    changes: [{ athlete_id: 1, what: "counted", data: {}, version: 7 }],
  });
});

test("what was taken away in the meantime is written as new", () => {
  const counts = { changes: [{ athlete_id: 2, what: "counted", data: {}, version: 5 }] };
  expect(rebased(counts, answer)).toEqual({
    changes: [{ athlete_id: 2, what: "counted", data: {}, version: null }],
  });
});

test("a report has no versions and stays as it is", () => {
  const report = { kind: "daily", answers: { mood: 7 } };
  expect(rebased(report, { report: { id: "x" } })).toBe(report);
});
