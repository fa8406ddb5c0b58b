import { describe, expect, it } from "vitest";
import type { Pasted } from "../../api/client";
import { comersOf, said, startsOf, wrongIn } from "./roster";

const pasted = (more: Partial<Pasted> = {}): Pasted => ({
  line: 1,
  name: "A. Tarn",
  number: 7,
  position: "wing",
  from_day: null,
  side: null,
  birth_year: null,
  unread: "",
  there: false,
  repeated: false,
  ...more,
});

describe("people who were pasted", () => {
  it("come in from their own day, or from the one that was given for all", () => {
    const [one, two] = startsOf(
      [pasted(), pasted({ name: "B. Ostrel", from_day: "2026-07-01" })],
      "2026-08-01",
    );
    expect([one?.from_day, two?.from_day]).toEqual(["2026-08-01", "2026-07-01"]);
  });

  it("are left out at first where their name stands already, in the squad or above", () => {
    const starts = startsOf(
      [
        pasted({ there: true }),
        pasted({ name: "B. Ostrel" }),
        pasted({ name: "b. ostrel" }),
        pasted({ name: "" }),
      ],
      "2026-08-01",
    );
    expect(starts.map((one) => one.takes)).toEqual([false, true, false, false]);
    expect(starts.map((one) => one.doubtful)).toEqual([true, false, true, false]);
    expect(starts.map(said)).toEqual(["In the squad already.", "", "Stands twice in the list.", ""]);
  });

  it("are sent as they stand after looking, with their row", () => {
    const [one] = startsOf([pasted({ side: "left" })], "2026-08-01");
    if (!one) throw new Error("nobody");
    const sent = comersOf([
      { ...one, takes: false },
      { ...one, number: " 12 ", namesake: true },
      { ...one, number: "" },
    ]);
    expect(sent.map(({ row, number, namesake, side }) => [row, number, namesake, side])).toEqual([
      [1, 12, true, "left"],
      [2, null, false, "left"],
    ]);
  });

  it("say what was not read", () => {
    const [one] = startsOf([pasted({ unread: "44" })], "2026-08-01");
    expect(one && said(one)).toBe("Not read: 44.");
  });

  it("come in only whole: nothing that was typed is left out without a word", () => {
    const [one] = startsOf([pasted()], "2026-08-01");
    if (!one) throw new Error("nobody");
    expect(wrongIn(one)).toBe("");
    expect(wrongIn({ ...one, number: "12a" })).toBe("A number is 0 to 999.");
    expect(wrongIn({ ...one, number: "1200" })).toBe("A number is 0 to 999.");
    expect(wrongIn({ ...one, position: " " })).toBe("Say the position.");
    expect(wrongIn({ ...one, name: "" })).toBe("An athlete has a name.");
    expect(wrongIn({ ...one, from_day: "" })).toBe("Say from which day.");
    // Who is left out may be as it is.
    expect(wrongIn({ ...one, position: "", takes: false })).toBe("");
  });
});
