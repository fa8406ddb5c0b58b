import { describe, expect, it } from "vitest";
import type { Waiting } from "../../offline/entries";
import { asksFirst } from "./told";

const report = (body: object, what = "report") => ({ key: "k", what, body }) as unknown as Waiting;

describe("a report that still waits to be sent", () => {
  it("asks first when it tells of an illness, or of a pain of four or more", () => {
    expect(asksFirst(report({ ill: true, pains: [] }))).toBe(true);
    expect(asksFirst(report({ ill: false, pains: [{ severity: 2 }, { severity: 4 }] }))).toBe(true);
  });

  it("does not for a small pain, for none, or for anything that is no report", () => {
    expect(asksFirst(report({ ill: false, pains: [{ severity: 3 }] }))).toBe(false);
    expect(asksFirst(report({}))).toBe(false);
    expect(asksFirst(report({ ill: true }, "ratings"))).toBe(false);
  });
});
