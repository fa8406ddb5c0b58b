import { expect, test } from "vitest";
import { placeName, regionsOf, samePlace } from "./bodySites";

test("every place with two sides is there twice in a view, mirrored once", () => {
  for (const view of ["front", "back"] as const) {
    const knees = regionsOf(view).filter((region) => region.site === "knee");
    expect(knees.map((region) => region.side).sort()).toEqual(["left", "right"]);
    expect(knees.map((region) => region.mirrored).sort()).toEqual([false, true]);
  }
});

test("the athlete's left is on the viewer's right from the front, and on the left from behind", () => {
  const mirrored = (view: "front" | "back") =>
    regionsOf(view).find((region) => region.site === "knee" && region.mirrored)?.side;
  expect(mirrored("front")).toBe("left");
  expect(mirrored("back")).toBe("right");
});

test("a place is said with its side, and is the same only with the same side", () => {
  expect(placeName("knee", "left")).toBe("left knee");
  expect(placeName("head", null)).toBe("head");
  expect(samePlace({ site: "knee", side: "left" }, { site: "knee", side: "right" })).toBe(false);
  expect(samePlace({ site: "head" }, { site: "head", side: null })).toBe(true);
});
