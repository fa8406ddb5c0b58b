// @vitest-environment jsdom

import { act } from "react";
import { expect, it } from "vitest";
import type { GameLike, MatchTerms } from "../../../api/client";
import { box, show } from "../../../testing";
import { GameShape } from "./GameShape";
import { TermsTable } from "./TermsTable";
import { WhatAMatchIs } from "./WhatAMatchIs";

const lines = () => [...box.querySelectorAll("tbody tr")].map((one) => one.querySelector("th")?.textContent);

const share = (percent: number | null, more: Partial<MatchTerms["rows"][number]["shares"][number]> = {}) => ({
  percent,
  peak: null,
  amount: percent === null ? null : percent * 4,
  match: 400,
  of: "position",
  why: percent === null ? "too rare" : "",
  estimated: false,
  ...more,
});

const row = (athlete_id: number, name: string, shares: ReturnType<typeof share>[]) => ({
  athlete_id,
  name,
  number: 1,
  position: name === "C" ? "keeper" : "wing",
  minutes: 60,
  whole: true,
  shares,
});

const terms = (): MatchTerms => ({
  session_id: "s",
  figures: [
    { code: "load", name: "Load", unit: "", mark: "ring", peaks: false },
    { code: "fast", name: "Fast running", unit: "m", mark: "fork", peaks: true },
  ],
  squad: [89, 34],
  squad_peaks: [null, 60],
  groups: [
    { position: "keeper", people: 1, parts: 0, percents: [96, null] },
    { position: "wing", people: 2, parts: 24, percents: [90, 35] },
  ],
  rows: [
    row(1, "A", [share(93, { of: "own" }), share(60, { peak: 120 })]),
    row(2, "B", [share(52, { estimated: true }), share(null)]),
    row(3, "C", [share(96), share(null)]),
  ],
  parts: [
    { name: "Warm-up", minutes: 12, percents: [null, 4] },
    { name: "Open play", minutes: 40, percents: [null, 30] },
  ],
  match: [
    {
      position: "",
      parts: 24,
      minutes: 54,
      load: [400, 260],
      spread: [41.2, null],
      a_minute: [7.4, 4.81],
      peak: [null, 33],
    },
  ],
  planned: false,
  matches: 9,
  said: "",
  sentences: [],
  game: null,
});

it("opens a position to its people, and the one of the address from the start", async () => {
  await show(<TermsTable terms={terms()} chosen={null} />);
  expect(lines()).toEqual([
    "Squad who did most of it",
    "keeper 1, by everybody’s",
    "wing 2, 24 parts",
    "Parts of who was recorded; each begins where the last one ended",
    "Warm-up 12 min",
    "Open play 40 min",
  ]);
  await act(async () =>
    [...box.querySelectorAll("button")].find((one) => one.textContent === "wing")?.click(),
  );
  expect(lines()).toContain("A 60 min");
  expect(lines()).not.toContain("C 60 min");
  await show(<TermsTable key="again" terms={terms()} chosen="3" />);
  expect(lines()).toContain("C 60 min");
});

it("says why there is no per cent, marks an estimate, and tells what it is measured by", async () => {
  await show(<TermsTable terms={terms()} chosen="1" />);
  const of = (name: string) =>
    [...box.querySelectorAll("tr")].find((one) => one.textContent?.startsWith(name));
  expect(of("B")?.textContent).toContain("≈52");
  expect(of("B")?.textContent).toContain("too rare");
  const [load, fast] = [...(of("A")?.querySelectorAll("td") ?? [])].map((one) => one.title);
  expect(load).toBe("372 of 400 in a match, by own matches");
  expect(fast).toBe(
    "240 of 400 in a match, by matches of the position; hardest minute 120 % of a match’s hardest",
  );
});

it("shows no parts where none of it was recorded", async () => {
  const none = { ...terms(), parts: [{ name: "Warm-up", minutes: 12, percents: [null, null] }] };
  await show(<TermsTable terms={none} chosen={null} />);
  expect(box.querySelector(".terms-parts")).toBeNull();
});

const bouts = (median: number | null) => ({ n: 4, per_minute: 1, q25: 1, median, q75: 9 });

it("says how like the game it was and how long half of the runs last", async () => {
  const shape = { minutes: 60, share: [0.4, 0.6], work: bouts(12.2), rest: bouts(null) };
  const game = {
    people: 6,
    games: 20,
    overlap: 0.75,
    distance: 0.26,
    training: shape,
    match: { ...shape, work: bouts(5.8), rest: bouts(15) },
    bins: [
      { name: "standing", begins: 0, training: 0.2, match: 0.4 },
      { name: "walking", begins: 0.5, training: 0.8, match: 0.6 },
    ],
    runs: { begins: [0, 4], training: [0.5, 0.5], match: [1, 0] },
    rests: { begins: [0, 8], training: [0.5, 0.5], match: [1, 0] },
    changes: [],
    after: null,
    drills: [],
    said: "75 % of the time was spent as in a match. Too little standing.",
  } as GameLike;
  await show(<GameShape game={game} />);
  expect(box.querySelector("h2")?.textContent).toBe(
    "Is it like the game? 75 % of the time was spent as in a match. Too little standing.",
  );
  expect(box.textContent).toContain("standing20 %40 %");
  expect(box.textContent).toContain("apart by 0.26 m/s on average");
  expect(box.textContent).toContain("half under 12.2 s; match 5.8 s");
  expect(box.textContent).toContain("half under –; match 15 s");
});

it("says what a match is, in all, of a minute and in its hardest one", async () => {
  await show(<WhatAMatchIs terms={terms()} />);
  expect(lines()).toEqual(["everybody"]);
  const [parts, minutes, load, fast] = [...box.querySelectorAll("tbody td")].map((one) => one.textContent);
  expect([parts, minutes]).toEqual(["24", "54"]);
  expect(load).toBe("400 ± 417.4 a min");
  expect(fast).toBe("2604.8 a min, hardest 33");
  await show(<WhatAMatchIs terms={{ ...terms(), match: [] }} />);
  expect(box.textContent).toBe("");
});
