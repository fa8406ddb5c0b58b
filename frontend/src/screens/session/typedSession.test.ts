import { describe, expect, it } from "vitest";
import type { Planned, SessionPlan } from "../../api/client";
import { asMuch, bodyOf, madeText, placesOf, type Typed, wrongIn } from "./typedSession";

const typed = (more: Partial<Typed> = {}): Typed => ({
  kind: "court",
  title: "Court",
  day: "2026-03-12",
  at: "18:00",
  minutes: "75",
  effort: "5",
  place: "",
  opponent: "",
  venue: "home",
  until: "",
  ...more,
});

const wrong = (more: Partial<Typed>) =>
  Object.entries(wrongIn(typed(more))).flatMap(([field, said]) => (said ? [field] : []));

describe("a session that is typed", () => {
  it("is sent in numbers, with a comma as well as a point", () => {
    expect(bodyOf(typed({ minutes: "75", effort: "5,5" }))).toMatchObject({
      minutes: 75,
      effort: 5.5,
      place: null,
    });
  });

  it("has an opponent only where it is a match with one", () => {
    const of = { opponent: "Lindhav", venue: "away" };
    expect(bodyOf(typed(of))).toMatchObject({ opponent: null, venue: null });
    expect(bodyOf(typed({ ...of, kind: "match" }))).toMatchObject({ opponent: "Lindhav", venue: "away" });
    expect(bodyOf(typed({ kind: "match", opponent: " " }))).toMatchObject({ opponent: null, venue: null });
  });

  it("is whole, or says what is not at its place", () => {
    expect(wrong({})).toEqual([]);
    expect(wrong({ title: " " })).toEqual(["title"]);
    expect(wrong({ title: "", kind: "match" })).toEqual([]);
    expect(wrong({ minutes: "0" })).toEqual(["minutes"]);
    expect(wrong({ minutes: "2000" })).toEqual(["minutes"]);
    expect(wrong({ minutes: "" })).toEqual(["minutes"]);
    expect(wrong({ effort: "11" })).toEqual(["effort"]);
    expect(wrong({ effort: "x" })).toEqual(["effort"]);
    expect(wrong({ at: "6 pm", day: "" })).toEqual(["day", "at"]);
    expect(wrong({ until: "2026-03-11" })).toEqual(["until"]);
    expect(wrong({ until: "2026-03-12" })).toEqual([]);
  });

  it("says how many minutes come to the same in another place", () => {
    const factors = { Snow: 1, Rollers: 1.25, Mat: 1 };
    const planned: Planned = { sessions: [], marks: [], kinds: [], places: [], place_factors: factors };
    const said = { place: "Snow", minutes: "75" };
    expect(asMuch(planned, said, typed({ place: "Rollers" }))).toBe(60);
    expect(asMuch(planned, { place: "Rollers", minutes: "60" }, typed({ place: "", minutes: "60" }))).toBe(
      75,
    );
    expect(asMuch(planned, said, typed({ place: "Mat" }))).toBeNull();
    // Once other minutes are typed it is no longer asked.
    expect(asMuch(planned, said, typed({ place: "Rollers", minutes: "60" }))).toBeNull();
    expect(asMuch(planned, { ...said, minutes: "" }, typed({ place: "Rollers", minutes: "" }))).toBeNull();
  });

  it("keeps a place that left the list where it is, and offers it nowhere else", () => {
    const planned: Planned = { sessions: [], marks: [], kinds: [], places: ["Hall"], place_factors: {} };
    expect(placesOf(planned, typed({ place: "Old hall" }))).toEqual(["Hall", "Old hall"]);
    expect(placesOf(planned, typed({ place: "Hall" }))).toEqual(["Hall"]);
    expect(placesOf(planned, typed())).toEqual(["Hall"]);
  });
});

describe("sessions that were made", () => {
  const made = (...days: string[]) => days.map((day) => ({ day }) as SessionPlan);

  it("are told by how many and until when", () => {
    expect(madeText(made("2026-03-12"))).toBe("The session is made.");
    expect(madeText(made("2026-03-12", "2026-03-19"))).toBe("2 sessions are made, until Thu 19 March.");
  });
});
