import { describe, expect, it } from "vitest";
import { clockTime, dayAndMonth, isDay, longDay, mediumDay, plusDays, shortDay } from "./days";
import { load, room, short } from "./numbers";

describe("days", () => {
  it("are written the same in every time zone", () => {
    expect(shortDay("2026-03-12")).toBe("Thu 12");
    expect(dayAndMonth("2026-03-12")).toBe("12 Mar");
    expect(mediumDay("2026-03-12")).toBe("Thu 12 March");
    expect(longDay("2026-03-12")).toBe("Thursday 12 March 2026");
  });

  it("go on over months, years, leap days and clock changes", () => {
    expect(plusDays("2026-02-28", 1)).toBe("2026-03-01");
    expect(plusDays("2024-02-28", 1)).toBe("2024-02-29");
    expect(plusDays("2026-01-01", -1)).toBe("2025-12-31");
    expect(plusDays("2026-03-28", 2)).toBe("2026-03-30");
  });

  it.each([
    ["2026-03-12", true],
    ["2026-3-12", false],
    ["tomorrow", false],
    ["2026-13-01", false],
    [null, false],
  ])("%j is a day: %j", (text, is) => {
    expect(isDay(text)).toBe(is);
  });

  it("show a moment where the squad is", () => {
    expect(clockTime("2026-03-12T07:10:00Z", "Europe/Oslo")).toBe("08:10");
    expect(clockTime("2026-06-12T07:10:00Z", "Europe/Oslo")).toBe("09:10");
  });
});

describe("numbers", () => {
  it("have a thin space for thousands and a true minus", () => {
    expect(load(4065.4)).toBe("4\u2009065");
    expect(load(-60)).toBe("−60");
    expect(short(6.5)).toBe("6.5");
  });

  it("never overstate room", () => {
    expect(room(339.99)).toBe("339");
    expect(room(340)).toBe("340");
    expect(room(339.9999999)).toBe("340");
  });
});
