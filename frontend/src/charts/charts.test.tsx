// @vitest-environment jsdom

import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Room, SpineSession, Strip } from "../api/client";
import { colour } from "../theme/tokens";
import { CallBar } from "./CallBar";
import { CorridorStrip, strippedRange } from "./CorridorStrip";
import { Notch } from "./Notch";
import { SessionGlyph } from "./SessionGlyph";

const TODAY = 7;

function strip(changes: Partial<Strip> = {}): Strip {
  return {
    week: Array(10).fill(2000),
    load: Array(10).fill(300),
    floor: Array(10).fill(1600),
    ceiling: Array(10).fill(2500),
    state: [...Array(TODAY).fill("measured"), "planned", "planned", "planned"],
    side: Array(10).fill(""),
    torn: "",
    ...changes,
  };
}

const room: Room = {
  load: 400,
  words: "about 60 min at 7",
  closed: false,
  binding: ["week_cap"],
  bound_by: "cap on week load",
  next_load: null,
  next_by: "",
  plan: 300,
  written: 300,
  plan_words: "plan fits, 100 to spare",
  resting: "",
};

function draw(of: Strip, with_: Room = room) {
  const box = document.createElement("div");
  box.innerHTML = renderToStaticMarkup(
    <CorridorStrip strip={of} room={with_} today={TODAY} width={300} label="Week load 2 000." />,
  );
  return box;
}

const rects = (box: Element) => [...box.querySelectorAll("rect")];
const bars = (box: Element) => rects(box).filter((one) => one.getAttribute("fill") === colour.quiet);

describe("the corridor strip", () => {
  it("says itself in a sentence", () => {
    expect(draw(strip()).querySelector("svg")?.getAttribute("aria-label")).toBe("Week load 2 000.");
  });

  it("draws measured days solid, estimated dotted, missing hollow and rest not at all", () => {
    const state = ["measured", "estimated", "missing", "rest", ...Array(6).fill("before")] as Strip["state"];
    const box = draw(strip({ state }));
    expect(bars(box)).toHaveLength(1);
    expect(rects(box).filter((one) => one.getAttribute("stroke-dasharray") === "1 1.4")).toHaveLength(1);
    expect(box.querySelectorAll(`path[stroke="${colour.ceiling}"][d*="h"]`)).toHaveLength(1);
  });

  it("puts a notch where the load leaves the corridor, not on every day it stays outside", () => {
    const side = ["", "", "over", "over", "", "under", "", "", "", ""] as Strip["side"];
    expect(draw(strip({ side })).querySelectorAll("g[transform]")).toHaveLength(2);
  });

  it("draws room as a slot from where today starts, and none where there is no figure", () => {
    const slots = (of: Room) =>
      rects(draw(strip(), of)).filter((one) => one.getAttribute("stroke") === colour.ink);
    const small = Number(slots({ ...room, load: 100 })[0]?.getAttribute("height"));
    const large = Number(slots(room)[0]?.getAttribute("height"));
    expect(large).toBeGreaterThan(small * 2);
    expect(slots({ ...room, load: null })).toHaveLength(0);
  });

  it("has gaps in the line where the week load is not known", () => {
    const week = [2000, 2000, null, 2000, 2000, 2000, 2000, 2000, 2000, 2000];
    const line =
      draw(strip({ week })).querySelector(`path[stroke="${colour.kelp}"]`)?.getAttribute("d") ?? "";
    expect(line.match(/M/g)).toHaveLength(2);
    expect(line).not.toContain("NaN");
  });

  it("fits the athlete: one very high ceiling does not flatten everything", () => {
    const ceiling = [...Array(9).fill(2500), 9000];
    expect(strippedRange(strip({ ceiling }), room, TODAY).high).toBeLessThan(3500);
  });

  it("draws what there is without any corridor or history", () => {
    const nothing = strip({
      week: Array(10).fill(null),
      load: Array(10).fill(null),
      floor: Array(10).fill(null),
      ceiling: Array(10).fill(null),
      state: Array(10).fill("before"),
    });
    expect(draw(nothing, { ...room, load: null, plan: 0 }).innerHTML).not.toContain("NaN");
  });
});

describe("signs", () => {
  const html = (node: Parameters<typeof renderToStaticMarkup>[0]) => renderToStaticMarkup(node);

  it("a notch has its own shape, and outline, half and solid for note, watch and act", () => {
    const over = html(<Notch shape="over" severity="act" label="act: over" />);
    const under = html(<Notch shape="under" severity="act" label="act: under" />);
    expect(over).not.toBe(under.replace("under", "over"));
    expect(over).toContain('aria-label="act: over"');
    expect(html(<Notch shape="gap" severity="watch" />)).toContain("clip-path");
    expect(html(<Notch shape="gap" severity="note" />)).not.toContain("clip-path");
  });

  const session = (changes: Partial<SpineSession>): SpineSession => ({
    id: "x",
    kind: "court",
    title: "Court",
    starts_at: "2026-03-11T17:00:00Z",
    minutes: 75,
    effort: 5,
    opponent: null,
    venue: null,
    done: true,
    unrated: 0,
    ...changes,
  });

  it("a session is told from another by shape, and planned from done by its line", () => {
    const kinds = (["court", "gym", "recovery", "match"] as const).map((kind) =>
      html(<SessionGlyph session={session({ kind })} y={8} />),
    );
    expect(new Set(kinds.map((one) => one.slice(0, 20))).size).toBeGreaterThan(2);
    const planned = html(<SessionGlyph session={session({ done: false })} y={8} />);
    expect(planned).toContain("stroke-dasharray");
    expect(planned).toContain('fill="none"');
  });

  it("a call beyond room shows what is beyond", () => {
    expect(html(<CallBar load={500} room={400} most={600} />)).toContain(colour.madder);
    expect(html(<CallBar load={300} room={400} most={600} />)).not.toContain(colour.madder);
    const lines = (one: string) => one.match(/<line/g)?.length;
    expect(lines(html(<CallBar load={300} room={400} most={600} />))).toBe(2);
    expect(lines(html(<CallBar load={300} room={null} most={600} />))).toBe(1);
  });
});
