import { describe, expect, it } from "vitest";
import { monthName } from "../../frame/days";
import { mondayOf, monthDays, otherMonth } from "./month";

describe("a month's calendar", () => {
  it("has whole weeks, and every day of the month", () => {
    for (const day of ["2026-03-12", "2026-02-01", "2027-02-28", "2024-02-29", "2026-12-31"]) {
      const days = monthDays(day);
      expect(days.length % 7).toBe(0);
      expect(days[0]).toBe(mondayOf(`${day.slice(0, 7)}-01`));
      expect(days.filter((one) => one.startsWith(day.slice(0, 7))).length).toBeGreaterThan(27);
      expect(new Set(days).size).toBe(days.length);
    }
    // From a Monday to a Sunday, four weeks are enough.
    expect(monthDays("2027-02-10")).toHaveLength(28);
  });

  it("begins weeks on Monday", () => {
    expect(["2026-03-09", "2026-03-15", "2026-03-16"].map(mondayOf)).toEqual([
      "2026-03-09",
      "2026-03-09",
      "2026-03-16",
    ]);
  });

  it("goes to the same day of the month beside it, or to its last", () => {
    expect(otherMonth("2026-03-31", -1)).toBe("2026-02-28");
    expect(otherMonth("2026-01-31", 1)).toBe("2026-02-28");
    expect(otherMonth("2026-12-15", 1)).toBe("2027-01-15");
    expect(otherMonth("2026-01-15", -1)).toBe("2025-12-15");
    expect(monthName("2026-03-12")).toBe("March 2026");
  });
});
