import { describe, expect, it } from "vitest";
import type { LimitItem, Limits } from "../../api/client";
import type { Place } from "../../frame/place";
import { begun, checkLimit, readyLimit, unitOf } from "./typedLimit";

const rule = (code: string, unit: string, more = {}) => ({
  code,
  unit,
  has_over: false,
  has_school: false,
  ...more,
});
const standing = (id: string, more: Partial<LimitItem> = {}) =>
  ({
    id,
    rule: "week_change_cap",
    channel: "session",
    school: null,
    value: 0.15,
    over: null,
    hard: false,
    scope: "squad",
    position: null,
    athlete_id: null,
    source: "Gabbett 2016",
    ...more,
  }) as LimitItem;
const limits = {
  rules: [
    rule("week_change_cap", "share"),
    rule("day_cap", "load"),
    rule("ratio_ceiling", "ratio", { has_school: true }),
    rule("days_in_seven", "days", { has_over: true }),
  ],
  channels: [
    { code: "session", unit: "AU" },
    { code: "throws", unit: "throws" },
  ],
  limits: [
    standing("squad's"),
    standing("own", { scope: "athlete", athlete_id: 7 }),
    standing("weighted", { rule: "ratio_ceiling", school: "ewma", value: 1.3 }),
  ],
} as unknown as Limits;
const place = { squad: { today: "2026-03-12" } } as unknown as Place;
const typed = (more = {}) => ({
  ...begun(place, limits, { rule: "week_change_cap", athlete: null }),
  ...more,
});
const ready = (more = {}, like?: LimitItem) =>
  readyLimit(limits, like, "new", typed({ value: "20", reason: "why", ...more }));

describe("a limit as it is sent", () => {
  it("is a share where per cent were typed, and what they are elsewhere", () => {
    expect(ready().value).toBe(0.2);
    expect(ready({ rule: "day_cap" }).value).toBe(20);
  });

  it("takes the place of the one for the same people, and of no other", () => {
    expect(ready().replaces).toBe("squad's");
    expect(ready({ scope: "athlete", athlete: "7" }).replaces).toBe("own");
    expect(ready({ scope: "athlete", athlete: "8" }).replaces).toBeNull();
    expect(ready({ channel: "throws" }).replaces).toBeNull();
    expect(ready({ rule: "ratio_ceiling" }).replaces).toBe("weighted");
    expect(ready({ rule: "ratio_ceiling", school: "rolling" }).replaces).toBeNull();
  });

  it("takes the place of somebody else's once that was shown", () => {
    expect(readyLimit(limits, undefined, "new", typed(), "theirs").replaces).toBe("theirs");
  });

  it("keeps its source as long as its value is the same", () => {
    const like = limits.limits[0] as LimitItem;
    expect(ready({ value: "15" }, like).source).toBe("Gabbett 2016");
    expect(ready({ value: "16" }, like).source).toBe("");
  });
});

describe("a limit as it is typed", () => {
  it("begins with the terms of the one it is like", () => {
    const like = { ...(limits.limits[0] as LimitItem), scope: "position" as const, position: "wing" };
    expect(begun(place, limits, { rule: like.rule, athlete: null, like })).toMatchObject({
      value: "15",
      binding: "advisory",
      scope: "position",
      position: "wing",
      from: "2026-03-12",
    });
  });

  it("says what is missing", () => {
    const wrong = checkLimit(typed({ value: "x", scope: "athlete" }));
    expect(
      Object.entries(wrong)
        .filter(([, said]) => said)
        .map(([field]) => field),
    ).toEqual(["value", "athlete_id", "reason"]);
  });

  it("is in the unit of its rule, a load in that of its channel", () => {
    expect(unitOf(limits, typed())).toBe("%");
    expect(unitOf(limits, typed({ rule: "day_cap", channel: "throws" }))).toBe("throws");
  });
});
