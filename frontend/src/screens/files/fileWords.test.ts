import { describe, expect, it } from "vitest";
import { fullDay, roleName, shortly, whatIsMade } from "./fileWords";

describe("sessions that would be made", () => {
  it("are named by their day while it is one, and told by where they lie when they are many", () => {
    expect(whatIsMade(["2026-03-08"])).toBe("There is no session for Sun 8 Mar 2026: make one from the file");
    expect(whatIsMade(["2026-03-09", "2025-09-01", "2025-09-03"])).toBe(
      "3 sessions from Mon 1 Sept 2025 to Mon 9 Mar 2026 are not there (Mon 2, Wed 1): make them from the file",
    );
  });
});

describe("what a column holds", () => {
  it("is called as people call it, tests by their own names", () => {
    expect(roleName("channel:full_throws")).toBe("load of full throws");
    expect(roleName("question:sleep_quality")).toBe("answer: sleep quality");
    expect(roleName("zone:2")).toBe("minutes in zone 2");
    expect(roleName("first_name")).toBe("first name");
    expect(roleName("test:sprint:left", { "sprint 30 left": "sprint:left" })).toBe("sprint 30 left");
    expect(roleName("test:gone")).toBe("gone");
  });
});

describe("many", () => {
  it("are said by the first few, and one more is not hidden behind a count", () => {
    expect(shortly(["a", "b", "c"], 2)).toBe("a; b; c");
    expect(shortly(["a", "b", "c", "d"], 2)).toBe("a; b and 2 more");
  });
  it("says the year of a day", () => expect(fullDay("2025-09-14")).toBe("Sun 14 Sept 2025"));
});
