import { expect, test } from "vitest";
import { bodyOf, type TypedReturn } from "./begin";

const typed: TypedReturn = {
  athlete_id: "7",
  kind: "injury",
  template: "shoulder",
  site: "shoulder",
  side: "right",
  first_off: "2026-01-01",
  first_day: "2026-03-12",
  target_day: "",
  needed: "90",
  school: "slower",
  usual: "2 400",
  note: "tendon",
  onset: "sudden",
  mechanism: "",
  replaces: false,
};

test("what a clinician types is sent as it is, what is empty as nothing", () => {
  const body = bodyOf({ ...typed, usual: "2400,5" });
  expect(body).toMatchObject({
    athlete_id: 7,
    template: "shoulder",
    side: "right",
    needed: 90,
    target_day: null,
  });
  expect(body.usual).toBe(2400.5);
  expect(body.replaces).toBeNull();
  expect([body.onset, body.mechanism]).toEqual(["sudden", null]);
});

test("of a break nothing clinical goes along, and somebody new has no day off", () => {
  expect(bodyOf({ ...typed, kind: "layoff" })).toMatchObject({
    template: "blank",
    site: null,
    side: null,
    note: "",
  });
  expect(bodyOf({ ...typed, kind: "new" }).first_off).toBeNull();
});

test("a plan that runs gives way only where that is said", () => {
  expect(bodyOf({ ...typed, replaces: true }, "running").replaces).toBe("running");
  expect(bodyOf(typed, "running").replaces).toBeNull();
  expect(bodyOf({ ...typed, site: "" }).side).toBeNull();
});
