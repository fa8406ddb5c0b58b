// @vitest-environment jsdom

import { act } from "react";
import { createRoot } from "react-dom/client";
import { afterEach, expect, it, vi } from "vitest";
import { type BlockWeekShown, BlockWeeks } from "./BlockWeeks";

vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
const box = document.body.appendChild(document.createElement("div"));
const root = createRoot(box);
afterEach(() => act(() => root.render(null)));

const week = (first: string, more: Partial<BlockWeekShown> = {}): BlockWeekShown => ({
  first,
  lighter: false,
  load: 1000,
  base: 950,
  ceiling: 1200,
  floor: null,
  over: 0,
  ...more,
});

const WEEKS = [
  week("2026-03-16"),
  week("2026-03-23", { load: 600, lighter: true }),
  week("2026-03-30", { over: 3 }),
];

function draw(onLoad?: (i: number, load: number) => void) {
  act(() =>
    root.render(
      <BlockWeeks weeks={WEEKS} people={22} name={(i) => `week ${i}`} {...(onLoad && { onLoad })} />,
    ),
  );
  return box;
}

it("draws higher weeks higher, lighter ones pale, and tells who is over", () => {
  const bars = [...draw().querySelectorAll(".block-bar")].map((bar) => bar.querySelectorAll("rect")[1]);
  const [hard, lighter] = bars.map((bar) => Number(bar?.getAttribute("height")));
  expect((lighter ?? 0) / (hard ?? 1)).toBeCloseTo(0.6, 2);
  expect(bars[1]?.getAttribute("fill")).not.toBe(bars[0]?.getAttribute("fill"));
  expect(box.textContent).toContain("3 over");
  // Three of twenty-two are no reason to draw the whole week as over.
  expect(bars[2]?.getAttribute("stroke")).toBe(bars[0]?.getAttribute("stroke"));
});

it("is moved with the arrows, a little or more, and says what each week is", () => {
  const moved = vi.fn();
  const bars = draw(moved).querySelectorAll<SVGGElement>("[role=slider]");
  expect(bars[0]?.getAttribute("aria-label")).toBe("week 0");
  const press = (key: string) =>
    act(() => bars[0]?.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true })));
  for (const key of ["ArrowUp", "ArrowDown", "PageUp", "a"]) press(key);
  expect(moved.mock.calls).toEqual([
    [0, 1020],
    [0, 980],
    [0, 1100],
  ]);
});

it("is only looked at where nobody may move it", () => {
  expect(draw().querySelector("[role=slider]")?.getAttribute("tabindex")).toBeNull();
});
