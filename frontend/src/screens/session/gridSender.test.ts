// @vitest-environment jsdom

import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { type EntryChange, type Grid, Problem } from "../../api/client";
import { GridSender, type GridState, NOTHING } from "./gridSender";

const row = (athlete_id: number, version: number) =>
  ({ athlete_id, version, minutes: null, effort: null, words: null }) as Grid["rows"][number];
const grid = (...rows: Grid["rows"]) => ({ rows }) as Grid;
const typed = (effort: number) => ({ minutes: 60, effort, words: null });
const refusal = (status: number, field?: string) =>
  new Problem(status, "no", field ? { errors: [{ field, detail: "no" }] } : {});

/** A sender whose server answers as the test says, one answer after the other. */
function desk(...answers: (Grid | Problem)[]) {
  let state: GridState = NOTHING;
  const posted: EntryChange[][] = [];
  const kept: EntryChange[][] = [];
  const sender = new GridSender({
    post: async (changes) => {
      posted.push(changes);
      const answer = answers.shift();
      if (answer instanceof Problem) throw answer;
      return answer ?? grid();
    },
    keep: (changes) => kept.push(changes),
    saved: () => undefined,
    say: (change) => {
      state = { ...state, ...change(state) };
    },
  });
  sender.setRows([row(1, 3), row(2, 5), row(3, 1)]);
  return { sender, posted, kept, state: () => state };
}

const settled = () => vi.advanceTimersByTimeAsync(0);

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

it("sends one request at a time, and what is kept meanwhile with the next", async () => {
  const { sender, posted, state } = desk(grid(row(1, 4), row(2, 5), row(3, 1)), grid(row(1, 5), row(2, 6)));
  sender.put([[1, typed(4)]]);
  sender.put([[1, typed(5)]]);
  sender.put([[2, typed(6)]]);
  expect(posted).toHaveLength(1);
  await settled();
  expect(posted.map((batch) => batch.map((one) => [one.athlete_id, one.effort, one.version]))).toEqual([
    [[1, 4, 3]],
    [
      [1, 5, 4],
      [2, 6, 5],
    ],
  ]);
  expect(state().drafts.size).toBe(0);
  expect([...state().states]).toEqual([
    [1, "saved"],
    [2, "saved"],
  ]);
  expect(sender.unsent).toBe(false);
});

it("keeps showing what was typed while an older change of the row was saved", async () => {
  const { sender, state } = desk(grid(row(1, 4)), refusal(0));
  sender.put([[1, typed(4)]]);
  sender.put([[1, typed(5)]]);
  await settled();
  expect(state().drafts.get(1)).toEqual(typed(5));
});

it("leaves a refused cell with its text, and saves the rest", async () => {
  const { sender, posted, state } = desk(refusal(422, "changes.1.effort"), grid(row(1, 4), row(3, 2)));
  sender.put([
    [1, typed(4)],
    [2, typed(11)],
    [3, typed(6)],
  ]);
  await settled();
  expect(posted[1]?.map((one) => one.athlete_id)).toEqual([1, 3]);
  expect(state().refused.get("2 effort")).toEqual({ text: "11", why: "no" });
  expect(state().drafts.has(2)).toBe(false);
});

it("shows both versions of a row that someone else changed", async () => {
  const body = { errors: [{ field: "changes.0", detail: "no" }], theirs: { effort: 3, version: 9 } };
  const { sender, state, posted } = desk(new Problem(409, "no", body));
  sender.put([[1, typed(4)]]);
  await settled();
  expect(state().conflicts.get(1)?.theirs.version).toBe(9);
  expect(state().drafts.get(1)).toEqual(typed(4));
  expect(posted).toHaveLength(1);
});

const changed = (version: number) =>
  new Problem(409, "no", { errors: [{ field: "changes.0", detail: "no" }], theirs: { effort: 3, version } });

it("lets the one put last decide where an older change of the row was in the way", async () => {
  const { sender, state, posted } = desk(changed(9), grid(row(1, 10)));
  sender.put([[1, typed(4)]]);
  // As it is settled while the first is still under way.
  sender.setRows([row(1, 9)]);
  sender.put([[1, typed(5)]]);
  await settled();
  expect(posted.map(([one]) => [one?.effort, one?.version])).toEqual([
    [4, 3],
    [5, 9],
  ]);
  expect(state().conflicts.size).toBe(0);
  expect(state().states.get(1)).toBe("saved");
});

it("forgets a conflict when the row is saved, and sends nothing of what was dropped for theirs", async () => {
  const { sender, state, posted } = desk(changed(9), grid(row(1, 10)), refusal(503));
  sender.put([[1, typed(4)]]);
  await settled();
  expect(state().conflicts.size).toBe(1);
  sender.put([[1, typed(5)]]);
  await settled();
  expect(state().conflicts.size).toBe(0);
  sender.put([[2, typed(5)]]);
  await settled();
  sender.drop(2);
  await vi.advanceTimersByTimeAsync(4000);
  expect(posted).toHaveLength(3);
  expect(state().drafts.size).toBe(0);
});

it.each([
  [0, true, true],
  [503, false, true],
  [403, false, false],
])("after a %i keeps what waits: %s, and tries again by itself: %s", async (status, keeps, again) => {
  const { sender, posted, kept, state } = desk(refusal(status), grid(row(1, 4)));
  sender.put([[1, typed(4)]]);
  await settled();
  expect(state().states.get(1)).toBe("waiting");
  expect(state().failure?.status).toBe(status);
  expect(kept.length > 0).toBe(keeps);
  await vi.advanceTimersByTimeAsync(4000);
  expect(posted.length).toBe(again ? 2 : 1);
  expect(state().failure === null).toBe(again);
});

it("sends what an earlier visit left with the version it was typed on", async () => {
  const { sender, posted } = desk(refusal(0));
  sender.restore([{ athlete_id: 2, minutes: 60, effort: 5, words: null, version: 4 }]);
  await settled();
  expect(posted[0]?.[0]?.version).toBe(4);
});
