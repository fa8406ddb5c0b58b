// @vitest-environment jsdom

import { describe, expect, it } from "vitest";
import type { ComplaintItem } from "../../api/client";
import { together } from "./Complaints";

const told = (changes: Partial<ComplaintItem>): ComplaintItem =>
  ({
    id: "x",
    athlete_id: 1,
    kind: "pain",
    said: "right shoulder, 2 of 10",
    day: "2026-03-10",
    told_at: "2026-03-10T06:00:00Z",
    seen_at: null,
    unseen: true,
    closed_on: null,
    ...changes,
  }) as ComplaintItem;

describe("complaints", () => {
  const monday = told({ id: "1" });
  const tuesday = told({ id: "2", said: "right shoulder, 4 of 10", told_at: "2026-03-11T06:00:00Z" });

  it("of one place on several days stand together, the newest first", () => {
    expect(together([monday, tuesday]).map((group) => group.map((one) => one.id))).toEqual([["2", "1"]]);
  });

  it("of the other side, or of somebody else, stand apart", () => {
    const left = told({ id: "3", said: "left shoulder, 2 of 10" });
    const other = told({ id: "4", athlete_id: 2 });
    expect(together([monday, left, other])).toHaveLength(3);
  });

  it("that nobody has seen yet come first", () => {
    const seen = told({
      id: "5",
      said: "illness",
      kind: "illness",
      seen_at: "2026-03-12T07:00:00Z",
      unseen: false,
    });
    const later = { ...seen, told_at: "2026-03-12T06:00:00Z" };
    expect(together([later, monday]).map((group) => group[0]?.id)).toEqual(["1", "5"]);
    // What is to be seen again today waits like what is new.
    const again = { ...later, unseen: true, again_on: "2026-03-12" };
    expect(together([{ ...monday, unseen: false }, again]).map((group) => group[0]?.id)).toEqual(["5", "1"]);
  });
});
