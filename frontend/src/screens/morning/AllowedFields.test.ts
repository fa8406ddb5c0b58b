import { expect, test } from "vitest";
import { allowedOf, NOTHING_ALLOWED } from "./AllowedFields";

test("half the minutes are sent as a share, typed with a comma or a point", () => {
  const draft = {
    ...NOTHING_ALLOWED,
    availability: "limited" as const,
    share: "50",
    cap: "5,5",
    change: "no duels",
  };
  expect(allowedOf(draft)).toMatchObject({
    minutes_share: 0.5,
    effort_cap: 5.5,
    change: "no duels",
    to_day: null,
  });
});

test("numbers belong to training in part alone, and what stood in them is not sent with another word", () => {
  const typed = { ...NOTHING_ALLOWED, share: "50", cap: "5", change: "no duels", until: "2026-03-20" };
  expect(allowedOf({ ...typed, availability: "out" })).toMatchObject({
    minutes_share: null,
    effort_cap: null,
  });
  expect(allowedOf({ ...typed, availability: "full" })).toMatchObject({ change: "", to_day: "2026-03-20" });
  expect(allowedOf({ ...typed, availability: "limited", share: "" }).minutes_share).toBeNull();
});
