import { describe, expect, it } from "vitest";
import { ownZone, zones } from "./zones";

describe("time zones to choose from", () => {
  it("have this browser's own and the one that is asked for, each once and in order", () => {
    const known = zones("Mars/Olympus");
    expect(known).toContain(ownZone());
    expect(known).toContain("UTC");
    expect(known).toContain("Europe/Vienna");
    expect(known).toContain("Mars/Olympus");
    expect(new Set(known).size).toBe(known.length);
    expect(known).toEqual([...known].sort());
  });
});
