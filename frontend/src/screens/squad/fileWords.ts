/** What the columns and the times of a file can be, as they are called on screen. */

const ROLE_NAMES: Record<string, string> = {
  ignore: "– not taken",
  athlete: "athlete",
  time: "time",
  date: "date",
  heart_rate: "heart rate",
  speed: "speed",
  latitude: "latitude",
  longitude: "longitude",
  x: "x on the field",
  y: "y on the field",
  impact: "impact peak",
  side: "left or right",
  minutes: "minutes",
  effort: "effort, 0–10",
  words: "words",
};

export const WRITINGS: Record<string, string> = {
  year_first: "2026-03-12 18:00",
  day_first: "12.03.2026 18:00",
  month_first: "03/12/2026 18:00",
  clock: "18:00:00, no date",
  seconds: "seconds from the start",
  milliseconds: "milliseconds from the start",
  minutes: "minutes from the start",
  unix_seconds: "seconds since 1970",
  unix_milliseconds: "milliseconds since 1970",
  sheet_days: "days of a spreadsheet",
};

export function roleName(role: string): string {
  if (role.startsWith("channel:")) return `load of ${role.slice(8).replaceAll("_", " ")}`;
  if (role.startsWith("zone:")) return `minutes in zone ${role.slice(5)}`;
  return ROLE_NAMES[role] ?? role;
}

/** What the file needs that is not there: a few days by name, many by where they begin and end. */
export function noSession(days: string[]): string {
  if (days.length === 1) return `There is no session for ${days[0]}: make one from the file`;
  if (days.length <= 4) return `There is no session for ${days.join(", ")}: make them from the file`;
  return `There is no session for ${days.length} times, from ${days[0]} to ${days.at(-1)}: make them from the file`;
}
