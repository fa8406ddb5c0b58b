import { describe, expect, it } from "vitest";
import type { WeekTemplate } from "../../api/client";
import { fitLines, sentOf, type TypedTemplate, weekLines, writtenSaid, wrongTyped } from "./templateStates";

const session = { day: 0, at: "18:00", kind: "gym" as const, title: "Gym", minutes: 60, effort: 6 };
const nobody = { years_least: null, years_most: null, sport: "", sport_days: null, longest: null };
const made = (written: Partial<WeekTemplate["written"]>, sessions = [session], weeks = 1): WeekTemplate => ({
  id: "t",
  name: "Two days",
  squad: "Handball",
  own: true,
  written: { ...nobody, ...written },
  weeks,
  sessions,
});

describe("what a template says of itself", () => {
  it("says for whom it was written, as far as that is known", () => {
    expect(writtenSaid(made({}))).toBe("For whom is not said");
    expect(writtenSaid(made({ years_least: 1 }))).toBe("For 1 year of training or more");
    expect(writtenSaid(made({ years_least: 1, years_most: 3 }))).toBe("For 1 to 3 years of training");
    expect(writtenSaid(made({ years_most: 1, sport: "handball", sport_days: 2, longest: 90 }))).toBe(
      "For at most 1 year of training, handball, beside 2 sport days a week, used to sessions of 90 min",
    );
  });

  it("has a line for each week, in order", () => {
    const later = { ...session, day: 9, minutes: 45 };
    expect(weekLines(made({}, [session, later], 2))).toEqual(["Mon Gym 60 min", "Wed Gym 45 min"]);
  });

  it("tells the days it comes to", () => {
    const fit = { name: "", whom: "", first: "2026-03-16", differs: [], there: 0 };
    const lines = fitLines({ ...fit, sessions: [{ ...session, day: 2 }] });
    expect(lines.map(({ day, said }) => `${day}: ${said}`)).toEqual(["Wed 18: Gym 18:00, 60 min at 6"]);
  });
});

describe("a new one as it is typed", () => {
  const typed: TypedTemplate = {
    name: "Two days",
    of: "2026-03-16",
    weeks: "1",
    years_least: "0,5",
    years_most: "",
    sport: "handball",
    sport_days: "",
    longest: "",
  };

  it("is sent with what is not said left out", () => {
    expect(wrongTyped(typed)).toEqual({});
    expect(sentOf(typed)).toMatchObject({ years_least: 0.5, years_most: null, longest: null, weeks: 1 });
  });

  it.each([
    [{ name: " " }, "name"],
    [{ weeks: "0" }, "weeks"],
    [{ weeks: "1.5" }, "weeks"],
    [{ weeks: "13" }, "weeks"],
    [{ years_most: "few" }, "years_most"],
    [{ of: "" }, "of"],
  ])("says what is wrong at its field", (more, field) => {
    expect(Object.keys(wrongTyped({ ...typed, ...more }))).toEqual([field]);
  });
});
