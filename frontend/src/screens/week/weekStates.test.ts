import { expect, test } from "vitest";
import type { Proposal, WeekCell, WeekRow, WeekSession } from "../../api/client";
import {
  byPerson,
  cellText,
  changesOf,
  groupsOf,
  isTight,
  NOTHING,
  spare,
  standsOut,
  withSession,
} from "./weekStates";

const cell = (more: Partial<WeekCell> = {}): WeekCell => ({
  plan: 300,
  room: 500,
  over: 0,
  by: "",
  also: [],
  words: "",
  closed: false,
  ...more,
});
const row = (name: string, position: string, ...cells: WeekCell[]): WeekRow => ({
  athlete_id: 1,
  name,
  number: 4,
  position,
  stands: "",
  cells,
});

test("a cell says what is planned of which room, what it goes over, and why there is no figure", () => {
  expect(cellText(cell())).toBe("300 of 500");
  expect(cellText(cell({ plan: 620.4, over: 120.4, by: "week-on-week cap" }))).toBe(
    "620 of 500, 120 over week-on-week cap",
  );
  expect(cellText(cell({ also: ["Throws", "Landings"] }))).toBe("300 of 500; too much on Throws, Landings");
  expect(cellText(cell({ room: null, words: "say the usual week first" }))).toBe(
    "300 planned, no figure: say the usual week first",
  );
  expect(cellText(cell({ closed: true, words: "does not train" }))).toBe("does not train");
});

test("who is over, tight or not as planned stands out, and who has room does not", () => {
  expect(standsOut(row("A", "back", cell(), cell()))).toBe(false);
  expect(standsOut(row("A", "back", cell(), cell({ over: 1, by: "cap" })))).toBe(true);
  expect(standsOut(row("A", "back", cell({ also: ["Throws"] })))).toBe(true);
  expect(standsOut({ ...row("A", "back", cell()), stands: "no throws" })).toBe(true);
  expect([440, 450, 451, 500].map((plan) => isTight(cell({ plan })))).toEqual([false, false, true, true]);
  expect(isTight(cell({ plan: 0, room: 0 }))).toBe(false);
  expect(isTight(cell({ room: null }))).toBe(false);
});

test("groups stand in the order in which they are met, and count who is over in them", () => {
  const over = cell({ over: 5, by: "cap" });
  const groups = groupsOf([row("A", "back", over, over), row("B", "wing", cell()), row("C", "back", cell())]);
  expect(groups.map(({ position, rows, over: n }) => [position, rows.length, n])).toEqual([
    ["back", 2, 1],
    ["wing", 1, 0],
  ]);
});

test("what is spare is room less the plan, and nothing is known without a figure", () => {
  expect([spare(cell()), spare(cell({ plan: 620 })), spare(cell({ room: null }))]).toEqual([200, -120, null]);
});

const court: WeekSession = {
  id: "s",
  title: "Court",
  kind: "court",
  at: "18:00",
  day: "2026-03-13",
  minutes: 50,
  typed: 50,
  effort: 5,
  done: false,
};

test("typed minutes and days replace those typed before, and as planned is no change", () => {
  const once = withSession(NOTHING, court, { minutes: 60 });
  expect(once.sessions).toEqual([{ session_id: "s", minutes: 60 }]);
  const moved = withSession(once, court, { day: "2026-03-14" });
  expect(moved.sessions).toEqual([{ session_id: "s", minutes: 60, day: "2026-03-14" }]);
  expect(withSession(moved, court, { minutes: 50 }).sessions).toEqual([
    { session_id: "s", minutes: 50, day: "2026-03-14" },
  ]);
  expect(withSession(withSession(moved, court, { minutes: 50 }), court, { day: "2026-03-13" })).toEqual(
    NOTHING,
  );
  expect(withSession(moved, { ...court, id: "t" }, { minutes: 10 }).sessions).toHaveLength(2);
});

test("a proposal is sent as its minutes, and read by person", () => {
  const own = (name: string, session_id: string, after: number) => ({
    athlete_id: name.length,
    name,
    session_id,
    title: "Court",
    day: "2026-03-13",
    before: 60,
    after,
  });
  const proposal: Proposal = {
    said: "",
    holds: true,
    proven: true,
    give_way: [],
    still_over: [],
    sessions: [{ session_id: "s", title: "Court", day: "2026-03-13", before: 60, after: 45 }],
    own: [own("Ann", "s", 30), own("Bo", "s", 15), own("Ann", "t", 0)],
  };
  expect(changesOf(proposal, NOTHING)).toEqual({
    sessions: [{ session_id: "s", minutes: 45 }],
    own: [
      { athlete_id: 3, session_id: "s", minutes: 30 },
      { athlete_id: 2, session_id: "s", minutes: 15 },
      { athlete_id: 3, session_id: "t", minutes: 0 },
    ],
  });
  const tried = {
    sessions: [
      { session_id: "s", minutes: 70, day: "2026-03-14" },
      { session_id: "u", minutes: 20 },
    ],
    own: [
      { athlete_id: 3, session_id: "s", minutes: 50 },
      { athlete_id: 9, session_id: "s", minutes: 5 },
    ],
  };
  const both = changesOf(proposal, tried);
  expect(both.sessions).toEqual([
    { session_id: "s", minutes: 45, day: "2026-03-14" },
    { session_id: "u", minutes: 20 },
  ]);
  expect(both.own).toHaveLength(4);
  expect(both.own?.[0]).toEqual({ athlete_id: 9, session_id: "s", minutes: 5 });
  const moved = {
    session_id: "s",
    title: "Court",
    day: "2026-03-13",
    before: 60,
    after: 60,
    to: "2026-03-15",
  };
  expect(changesOf({ ...proposal, sessions: [moved] }, NOTHING).sessions).toEqual([
    { session_id: "s", minutes: 60, day: "2026-03-15" },
  ]);
  expect(changesOf({ ...proposal, sessions: [moved] }, tried).sessions?.[0]).toEqual({
    session_id: "s",
    minutes: 60,
    day: "2026-03-15",
  });
  expect(byPerson(proposal.own).map(([name, lines]) => [name, lines.length])).toEqual([
    ["Ann", 2],
    ["Bo", 1],
  ]);
});
