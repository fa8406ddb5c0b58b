import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Notices } from "../../api/client";
import { EarlierSettings } from "./EarlierSettings";

const setting = (more: Partial<Notices["earlier"][number]> = {}): Notices["earlier"][number] => ({
  id: "1",
  code: "worn",
  scope: "squad",
  whom: "the whole squad",
  off: false,
  values: { rate: 1 },
  said: "speaks on 1 days an athlete-week",
  reason: "",
  from_day: "2026-02-02",
  until: "2026-03-09",
  set_by: "M. Ostrel",
  taken_back: false,
  ...more,
});

const said = (settings: Notices["earlier"]) =>
  renderToStaticMarkup(<EarlierSettings settings={settings} />)
    .replace(/<[^>]+>/g, " ")
    .replace(/\s+/g, " ");

describe("earlier settings of a notice", () => {
  it("say what was set, by whom, from when until when, and why", () => {
    expect(said([setting({ reason: "Too many" })])).toMatch(
      /1 earlier setting the whole squad: speaks on 1 days an athlete-week M\. Ostrel, from .*2 Feb.* until .*9 Mar.*; Too many/,
    );
  });

  it("say of one that was taken back that it was", () => {
    expect(said([setting({ taken_back: true }), setting({ id: "2" })])).toMatch(
      /^ ?2 earlier settings .*taken back on .*9 Mar/,
    );
  });

  it("are nothing at all where there are none", () => {
    expect(said([])).toBe("");
  });
});
