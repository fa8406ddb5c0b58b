import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import type { ReturnWhole } from "../api/client";
import { ClimbPlot, climbRows, ownLanes } from "./ClimbPlot";
import { ClimbStrip } from "./ClimbStrip";
import { CriterionMarks } from "./CriterionMarks";
import { climbDates, climbPath, climbScale, daysBetween } from "./climbScale";

const weeks = [50, 70, 100].map((share, i) => ({
  first: ["2026-03-09", "2026-03-16", "2026-03-23"][i] as string,
  share,
  again: i === 1,
}));
const row = {
  name: "D. Elsilith",
  said: "Step 1 of 3.",
  short: "Reaches 70 % by Sat 21 March.",
  first_off: "2026-02-16",
  first_day: "2026-03-09",
  from_day: "2026-02-01",
  weeks,
  measured: Array.from({ length: 40 }, (_, i) => (i === 3 ? null : i)),
  target: "2026-03-21",
  reached: 70,
};
const lane = (code: string, held_until: string | null) => ({
  code,
  name: code,
  unit: "",
  reference: 1800,
  held_until,
  weeks,
  measured: row.measured,
  on_target: 70,
  room: 200,
  room_words: "",
});
const whole = {
  row,
  today: "2026-03-12",
  from_day: "2026-01-19",
  to_day: "2026-04-12",
  lanes: [lane("main", null), lane("throws", "2026-03-16"), lane("lifting", null)],
  days: [300, 0, null],
  open_play: [{ first: "2026-03-09", share: 25 }],
  effort_until: "2026-03-22",
  effort_cap: 7,
  stage: null,
  clocks: [],
} as unknown as ReturnWhole;

test("what is before the return takes a quarter of the axis at most, and days stay in order", () => {
  const x = climbScale("2026-01-01", "2026-03-02", "2026-04-01", 100, 500);
  expect(x.wider).toBe("2026-03-02");
  expect(x("2026-03-02")).toBeCloseTo(100 + 400 * 0.26);
  expect(x("2026-01-31")).toBeLessThan(x("2026-03-01"));
  expect([x("2025-01-01"), x("2027-01-01")]).toEqual([100, 500]);
  const even = climbScale("2026-03-01", "2026-03-02", "2026-04-01", 0, 310);
  expect([even.wider, even("2026-03-11")]).toEqual([null, 100]);
  expect(daysBetween("2026-03-28", "2026-03-30")).toBe(2);
});

test("dates are Mondays with room between them", () => {
  const x = climbScale("2026-03-01", "2026-03-01", "2026-05-01", 0, 400);
  const dates = climbDates(x, 0);
  expect(dates[0]).toBe("2026-03-02");
  expect(dates.every((day) => new Date(`${day}T00:00:00Z`).getUTCDay() === 1)).toBe(true);
  expect(dates.every((day, i) => i === 0 || x(day) - x(dates[i - 1] as string) >= 44)).toBe(true);
});

test("a line is broken where nothing is known", () => {
  const path = climbPath(
    [1, null, 2, 3],
    "2026-03-01",
    (day) => Number(day.slice(-2)),
    (value) => value,
  );
  expect(path).toBe("M2.0 1.0M4.0 2.0L5.0 3.0");
});

test("only what climbs on its own has a row; the others come when they are asked for", () => {
  expect(ownLanes(whole).map(({ code }) => code)).toEqual(["main", "throws"]);
  const few = climbRows(whole, ownLanes(whole));
  expect(climbRows(whole, whole.lanes).height).toBeGreaterThan(few.height);
  const drawn = renderToStaticMarkup(<ClimbPlot whole={whole} />);
  expect(drawn).toContain("now");
  expect(drawn).toContain("held");
  expect(drawn).not.toContain("lifting");
  expect(renderToStaticMarkup(<ClimbPlot whole={whole} all />)).toContain("lifting");
  expect(renderToStaticMarkup(<ClimbPlot whole={{ ...whole, today: "2026-01-02" }} />)).not.toContain(
    ">now<",
  );
});

test("what is missing on the day is drawn, and nothing where it fits", () => {
  const at = { from: "2026-02-09", to: "2026-05-01", today: "2026-03-12", label: "" };
  const drawn = (reached: number) =>
    renderToStaticMarkup(<ClimbStrip climb={{ ...row, reached }} {...at} />).includes("url(#climb-missing)");
  expect([drawn(70), drawn(100)]).toEqual([true, false]);
});

test("a criterion shows what it was judged by", () => {
  const marks = [
    { value: 1, after: 4 },
    { value: 0, after: null },
  ];
  const drawn = (looks: string, more = {}) =>
    renderToStaticMarkup(
      <CriterionMarks criterion={{ looks, met: false, marks, most: 2, most_after: 1, ...more }} label="" />,
    );
  expect(drawn("pain").match(/<circle/g)).toHaveLength(3);
  expect(drawn("sessions").match(/<rect/g)).toHaveLength(2);
  expect(drawn("sides", { most: 10, marks: [{ value: 86, after: null }] }).match(/<circle/g)).toHaveLength(1);
  expect(drawn("word").match(/<rect/g)).toHaveLength(2);
});
