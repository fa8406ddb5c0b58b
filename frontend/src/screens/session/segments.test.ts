import { describe, expect, it } from "vitest";
import { moved } from "./SegmentStrip";

const parts = [
  { name: "Warm-up", begins: 0, minutes: 15, weight: 1, grade: null },
  { name: "Throwing", begins: 15, minutes: 25, weight: 2, grade: null },
  { name: "Open play", begins: 40, minutes: 40, weight: 3, grade: null },
];
const spans = (edge: number, to: number) =>
  moved(parts, edge, to).map((part) => [part.begins, part.begins + part.minutes]);

describe("moving the edge of a part", () => {
  it("moves the end of the part before it and the begin of the one after", () => {
    expect(spans(1, 18.2)).toEqual([
      [0, 18],
      [18, 40],
      [40, 80],
    ]);
  });

  it("leaves every part at least a minute", () => {
    expect(spans(1, -30)[0]).toEqual([0, 1]);
    expect(spans(1, 70)[1]).toEqual([39, 40]);
  });

  it("moves the first begin and the last end by themselves", () => {
    expect(spans(0, -4)[0]).toEqual([-4, 15]);
    expect(spans(3, 92)[2]).toEqual([40, 92]);
  });
});
