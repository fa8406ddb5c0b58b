// @vitest-environment jsdom

import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { NoticeRun, Timeline } from "../api/client";
import { plusDays } from "../frame/days";
import { colour } from "../theme/tokens";
import { placeAt, TimeAxis } from "./TimeAxis";
import { causesOf, LEFT, RIGHT } from "./TimeRows";

const FIRST = "2026-02-01";
const DAYS = 40;
const TODAY = 32;
const day = (i: number) => plusDays(FIRST, i);
const all = <T,>(value: T) => Array<T>(DAYS).fill(value);

function timeline(changes: Partial<Timeline> = {}): Timeline {
  return {
    athlete_id: 1,
    name: "A. Example",
    number: 7,
    position: "back",
    as_of: day(TODAY),
    days: Array.from({ length: DAYS }, (_, i) => day(i)),
    channels: [
      {
        channel: { code: "session_rpe", name: "Session load", mark: "ring", unit: "effort × min" },
        strip: {
          week: all(2000),
          load: all(300),
          floor: all(1500),
          ceiling: all(2500),
          state: all("measured"),
          side: all(""),
          torn: "",
        },
      },
    ],
    minutes: { court: all(60) },
    competitions: [
      { day: day(6), name: "Match against Ivelund", match: true },
      { day: day(36), name: "Match against Hagvik", match: true },
    ],
    base: all(1900),
    zones: null,
    windows: [],
    items: [],
    tests: [],
    schools: [{ code: "ewma", words: "", ratio: all(1.1) }],
    calls: [],
    breaks: [],
    ...changes,
  };
}

const run = (changes: Partial<NoticeRun> = {}): NoticeRun => ({
  first: day(10),
  last: day(14),
  code: "limit_broken",
  name: "Limit broken",
  cause: "load",
  shape: "over",
  severity: "act",
  channel: "",
  sentence: "Week load is 30 % above.",
  ...changes,
});

function draw(of: Timeline, more: Partial<Parameters<typeof TimeAxis>[0]> = {}) {
  const box = document.createElement("div");
  box.innerHTML = renderToStaticMarkup(
    <TimeAxis
      timeline={of}
      runs={[]}
      span={{ from: 0, to: DAYS - 1 }}
      width={900}
      at={20}
      beside={null}
      schools={[]}
      {...more}
    />,
  );
  return box;
}
/** What stands written, without the titles that only show when pointed at. */
const texts = (box: Element) =>
  [...box.querySelectorAll("text")].map((one) =>
    [...one.childNodes]
      .filter((part) => part.nodeName !== "title")
      .map((part) => part.textContent)
      .join(" / "),
  );
const titles = (box: Element) => [...box.querySelectorAll("title")].map((one) => one.textContent ?? "");
const height = (box: Element) => Number(box.querySelector("svg")?.getAttribute("height"));

describe("the time axis", () => {
  it("says whose it is and from when to when", () => {
    expect(draw(timeline()).querySelector("svg")?.getAttribute("aria-label")).toBe(
      "A. Example from 1 Feb to 12 Mar",
    );
  });

  it("fills what is over the ceiling in madder and what is under the floor in indigo", () => {
    const box = draw(timeline());
    expect(box.querySelectorAll(`path[fill="${colour.madder}"]`).length).toBeGreaterThan(0);
    expect(box.querySelectorAll(`path[fill="${colour.indigo}"]`).length).toBeGreaterThan(0);
    // Only what is cut out by the edges of the corridor is seen of them.
    for (const path of box.querySelectorAll(`path[fill="${colour.madder}"]`))
      expect(path.closest("g")?.getAttribute("clip-path")).toMatch(/over\)/);
  });

  it("draws played matches solid and coming ones hollow", () => {
    const found = [...draw(timeline()).querySelectorAll("path")].filter((one) =>
      one.querySelector("title")?.textContent?.startsWith("Match"),
    );
    expect(found.map((one) => one.getAttribute("fill"))).toEqual([colour.ink, "none"]);
  });

  it("calls matches matches, and races by their own name", () => {
    expect(draw(timeline()).textContent).toContain("Matches");
    const races = draw(timeline({ competitions: [{ day: day(6), name: "Race", match: false }] }));
    expect(races.textContent).toContain("Competition");
    expect(races.textContent).not.toContain("Match");
    expect([...races.querySelectorAll("title")].map((one) => one.textContent)).toContainEqual(
      expect.stringMatching(/^Race, /),
    );
  });

  it("gives room only to what there is", () => {
    const bare = height(draw(timeline()));
    const zones = { names: ["1", "2", "3"], minutes: [all(30), all(20), all(10)] };
    expect(height(draw(timeline({ zones })))).toBeGreaterThan(bare);
    expect(height(draw(timeline(), { schools: ["ewma"] }))).toBeGreaterThan(bare);
    expect(height(draw(timeline(), { runs: [run()] }))).toBeGreaterThan(bare);
    expect(texts(draw(timeline()))).not.toContain("Zones");
  });

  it("marks a notice where it began, and names it with its days", () => {
    const box = draw(timeline(), { runs: [run(), run({ cause: "reports", shape: "wave", first: day(20) })] });
    expect(titles(box)).toContain(
      "Wed 11 Feb to Sun 15 Feb: Week load is 30 % above.".replace(/Feb/g, "February"),
    );
    expect(texts(box)).toContain("Notices: load");
    expect(texts(box)).toContain("reports");
  });

  it("shows the line of a notice that began before the days shown, without its mark", () => {
    const marks = (from: number) =>
      draw(timeline(), { runs: [run()], span: { from, to: DAYS - 1 } }).querySelectorAll(
        "g[transform*='scale(0.75)']",
      ).length;
    expect(marks(5)).toBe(1);
    expect(marks(12)).toBe(0);
    const gone = draw(timeline(), { runs: [run()], span: { from: 20, to: DAYS - 1 } });
    expect(titles(gone).filter((one) => one.includes("Week load"))).toHaveLength(0);
  });

  it("names causes in one order, whatever was found first", () => {
    expect(causesOf([run({ cause: "tests" }), run({ cause: "load" }), run({ cause: "tests" })])).toEqual([
      "load",
      "tests",
    ]);
  });

  it("puts scale numbers left of the days and the rest of a long name below it", () => {
    const test = {
      code: "x",
      name: "Countermovement jump",
      unit: "cm",
      error: 1,
      days: [day(3)],
      values: [40],
    };
    const box = draw(timeline({ tests: [test] }));
    expect(texts(box)).toContain("Countermovement / jump, cm");
    const tick = [...box.querySelectorAll("text")].find((one) => one.textContent === "1\u2009000");
    expect(Number(tick?.getAttribute("x"))).toBeLessThan(LEFT);
    expect(tick?.getAttribute("text-anchor")).toBe("end");
  });

  it("tells calls kept from those that were not", () => {
    const call = (kept: Timeline["calls"][number]["kept"], i: number): Timeline["calls"][number] => ({
      athlete_id: 1,
      name: "A. Example",
      day: day(i),
      called: 300,
      done: 300,
      kept,
      after: "",
      call: {
        id: String(i),
        kind: "adapt",
        reason: "",
        review_on: null,
        minutes: 60,
        effort_cap: null,
        content: null,
        above_room: false,
        reply: null,
        made_by: "S. Taff",
        made_at: `${day(i)}T07:00:00Z`,
      },
    });
    const box = draw(timeline({ calls: [call("kept", 5), call("more", 8), call("less", 11), call("", 32)] }));
    const lines = [...box.querySelectorAll("g > rect[rx] ~ line")].map((one) => one.getAttribute("stroke"));
    expect(lines).toEqual([colour.kelp, colour.madder, colour.indigo]);
  });

  it("draws nothing that is not a number where nothing is known", () => {
    const nothing = {
      week: all(null),
      load: all(null),
      floor: all(null),
      ceiling: all(null),
      state: all("before" as const),
      side: all("" as const),
      torn: "",
    };
    const [first] = timeline().channels;
    const box = draw(
      timeline({
        channels: first ? [{ ...first, strip: nothing }] : [],
        base: all(null),
        schools: [{ code: "ewma", words: "", ratio: all(null) }],
        minutes: {},
      }),
      { schools: ["ewma"] },
    );
    expect(box.innerHTML).not.toContain("NaN");
  });
});

describe("the pointer", () => {
  const box = { left: 100, width: 900 } as DOMRect;
  const span = { from: 10, to: 29 };

  it("finds the day below it, and the ends beyond them", () => {
    const step = (900 - LEFT - RIGHT) / 20;
    expect(placeAt(100 + LEFT + step * 0.5, box, span)).toBe(10);
    expect(placeAt(100 + LEFT + step * 4.5, box, span)).toBe(14);
    expect(placeAt(0, box, span)).toBe(10);
    expect(placeAt(5000, box, span)).toBe(29);
  });
});
