import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import type { OwnReturn as Own } from "../../api/client";
import { OwnReturn } from "./OwnReturn";

const back: Own = {
  said: "Week 2 of your way back: up to 70 % of your usual week.",
  steps: [
    { first: "2026-03-02", share: 50, here: false },
    { first: "2026-03-09", share: 70, here: true },
  ],
  climbs: [
    { name: "Session load", done: 63.6, most: 70, opens: null },
    { name: "Throws", done: null, most: 70, opens: null },
    { name: "Landings", done: 0, most: 0, opens: "2026-03-16" },
  ],
  drills: [
    { name: "Waves", done: 30.4, usual: 24 },
    { name: "Passing", done: 12, usual: 0 },
  ],
  next: ["From Mon 16 March: up to 100 %."],
};

const drawn = (more: Partial<Own> = {}) =>
  renderToStaticMarkup(<OwnReturn back={{ ...back, ...more }} />).replace(/<[^>]+>/g, "|");

test("says the week, each kind of work against the own usual, and what comes next", () => {
  const text = drawn();
  for (const said of [
    back.said,
    "64 %, up to 70 % this week",
    "not rated yet, up to 70 % this week",
    "not before Mon 16 March",
    "30 of 24 min",
    "12 min, new since",
    "From Mon 16 March: up to 100 %.",
  ])
    expect(text).toContain(said);
});

test("marks the week that runs, and draws none where there is none yet", () => {
  expect(renderToStaticMarkup(<OwnReturn back={back} />).match(/aria-current="step"/g)).toHaveLength(1);
  expect(
    renderToStaticMarkup(<OwnReturn back={{ ...back, steps: [], climbs: [], drills: [], next: [] }} />),
  ).not.toContain("<ol");
});

test("a bar never leaves its frame", () => {
  const over = { ...back, climbs: [{ name: "Session load", done: 136, most: 70, opens: null }] };
  const widths = renderToStaticMarkup(<OwnReturn back={over} />).match(/width:\d+%/g);
  expect(widths).toEqual(["width:100%", "width:100%", "width:100%"]);
});
