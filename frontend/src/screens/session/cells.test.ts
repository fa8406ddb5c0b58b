import { describe, expect, it } from "vitest";
import { RANGES, readCell, readPasted, showCell } from "./cells";

describe("reading a cell", () => {
  it.each([
    ["7", 7],
    ["6.5", 6.5],
    ["6,5", 6.5],
    [" 0 ", 0],
    ["10", 10],
    ["", null],
    ["   ", null],
  ])("takes effort %j as %j", (text, value) => {
    expect(readCell("effort", text)).toEqual({ value });
  });

  it.each(["11", "-1", "−1", "x", "6.3", "1e1", "7 8", "0x5", "NaN", "Infinity", "6.5.1"])(
    "refuses effort %j with the allowed range",
    (text) => {
      expect(readCell("effort", text)).toEqual({ wrong: RANGES.effort });
    },
  );

  it.each([
    ["600", { value: 600 }],
    ["72.5", { value: 72.5 }],
    ["601", { wrong: RANGES.minutes }],
    ["-5", { wrong: RANGES.minutes }],
  ])("reads minutes %j", (text, read) => {
    expect(readCell("minutes", text)).toEqual(read);
  });

  it("keeps words as they are, and says when they are too many", () => {
    expect(readCell("words", " heavy legs ")).toEqual({ value: "heavy legs" });
    expect(readCell("words", "x".repeat(2001))).toHaveProperty("wrong");
  });
});

describe("cells from a spreadsheet", () => {
  it("are rows by lines and columns by tabs, whatever the line ends", () => {
    expect(readPasted("60\t5\r\n70\t6\r\n")).toEqual([
      ["60", "5"],
      ["70", "6"],
    ]);
    expect(readPasted("5\n\n7")).toEqual([["5"], [""], ["7"]]);
  });
});

describe("showing a cell", () => {
  it("writes half points and leaves what is not there empty", () => {
    const values = { minutes: 60, effort: 6.5, words: null };
    expect(showCell(values, "minutes")).toBe("60");
    expect(showCell(values, "effort")).toBe("6.5");
    expect(showCell(values, "words")).toBe("");
  });
});
