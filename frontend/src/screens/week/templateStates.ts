/** What a template says of itself, and what is typed of a new one. */

import type { TemplateFit, WeekTemplate } from "../../api/client";
import { plusDays, shortDay } from "../../frame/days";
import { short } from "../../frame/numbers";
import { typedNumber } from "../../kit/fields";

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const counted = (many: number, one: string) => `${short(many)} ${one}${many === 1 ? "" : "s"}`;

/** For whom it was written, in a line. */
export function writtenSaid({ written }: WeekTemplate): string {
  const { years_least, years_most, sport, sport_days, longest } = written;
  const said = [
    years_least !== null &&
      years_most !== null &&
      `${short(years_least)} to ${counted(years_most, "year")} of training`,
    years_least !== null && years_most === null && `${counted(years_least, "year")} of training or more`,
    years_least === null && years_most !== null && `at most ${counted(years_most, "year")} of training`,
    sport,
    sport_days !== null && `beside ${counted(sport_days, "sport day")} a week`,
    longest !== null && `used to sessions of ${short(longest)} min`,
  ].filter(Boolean);
  return said.length > 0 ? `For ${said.join(", ")}` : "For whom is not said";
}

/** Its weeks, one line each: days, titles and minutes. */
export function weekLines({ weeks, sessions }: WeekTemplate): string[] {
  return Array.from({ length: weeks }, (_, week) => {
    const mine = sessions.filter((one) => Math.floor(one.day / 7) === week);
    return mine.map((one) => `${DAYS[one.day % 7]} ${one.title} ${short(one.minutes)} min`).join(", ");
  });
}

/** The sessions that it comes to, with their days. */
export const fitLines = (fit: TemplateFit) =>
  fit.sessions.map((one) => ({
    key: `${one.day} ${one.at} ${one.title}`,
    day: shortDay(plusDays(fit.first, one.day)),
    said: `${one.title} ${one.at}, ${short(one.minutes)} min at ${short(one.effort)}`,
  }));

export interface TypedTemplate {
  name: string;
  of: string;
  weeks: string;
  years_least: string;
  years_most: string;
  sport: string;
  sport_days: string;
  longest: string;
}

const NUMBERS = ["years_least", "years_most", "sport_days", "longest"] as const;

/** What is wrong with what is typed, by field. */
export function wrongTyped(typed: TypedTemplate): Partial<Record<string, string>> {
  const wrong: Partial<Record<string, string>> = {};
  if (!typed.name.trim()) wrong.name = "A name, so that it is found again.";
  for (const field of NUMBERS)
    if (typed[field].trim() && Number.isNaN(typedNumber(typed[field])))
      wrong[field] = "A number, or nothing.";
  const weeks = typedNumber(typed.weeks);
  if (!Number.isInteger(weeks) || weeks < 1 || weeks > 12) wrong.weeks = "1 to 12 weeks.";
  if (!typed.of) wrong.of = "A day of the first week.";
  return wrong;
}

/** As it is sent: a number that is left empty is not said. */
export const sentOf = (typed: TypedTemplate) => ({
  name: typed.name,
  of: typed.of,
  weeks: typedNumber(typed.weeks),
  sport: typed.sport,
  years_least: saidNumber(typed.years_least),
  years_most: saidNumber(typed.years_most),
  sport_days: saidNumber(typed.sport_days),
  longest: saidNumber(typed.longest),
});

const saidNumber = (text: string) => (text.trim() ? typedNumber(text) : null);
