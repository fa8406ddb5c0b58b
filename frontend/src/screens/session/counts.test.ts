import { describe, expect, it } from "vitest";
import type { SessionWork } from "../../api/client";
import { cellsOf, countIn, itemsOf, withCount } from "./counts";

const work = {
  classes: [
    { code: "full", name: "Full throw", weight: 1, channel: "throws" },
    { code: "jump", name: "Jump", weight: 0.5, channel: "landings" },
  ],
  surfaces: [
    { code: "floor", name: "Sports floor", weight: 1, channel: "landings" },
    { code: "sand", name: "Sand", weight: 0.6, channel: "landings" },
  ],
} as SessionWork;

describe("the cells of the counter pad", () => {
  it("are one a class, and one a surface where surfaces matter", () => {
    expect(cellsOf(work).map((cell) => [cell.name, cell.weight])).toEqual([
      ["Full throw", 1],
      ["Jump", 0.5],
      ["Jump, sand", 0.3],
    ]);
  });

  it("count apart, and leave what is counted elsewhere alone", () => {
    const [full, jump, sand] = cellsOf(work);
    if (!full || !jump || !sand) throw new Error("cells are missing");
    let items = itemsOf({ items: [{ class: "jump", surface: "sand", posture: "low", count: 9 }] });
    items = withCount(items, jump, 3);
    items = withCount(items, sand, 1);
    items = withCount(items, jump, 4);
    expect([countIn(items, full), countIn(items, jump), countIn(items, sand)]).toEqual([0, 4, 1]);
    expect(items.find((item) => item.posture === "low")?.count).toBe(9);
  });

  it("never go below nothing", () => {
    const [full] = cellsOf(work);
    if (!full) throw new Error("the cell is missing");
    expect(countIn(withCount([], full, -1), full)).toBe(0);
  });

  it("read a document that is not there as empty", () => {
    expect(itemsOf(undefined)).toEqual([]);
  });
});
