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
  number: "shirt number",
  session: "session",
  venue: "home or away",
  from_day: "in the squad from",
  minutes: "minutes",
  came_on: "came on, minute of the match",
  went_off: "went off, minute of the match",
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
  named: "12 March 2026",
  compact: "20260312",
  short_year_first: "26-03-12",
};

const PREFIXES: Record<string, string> = {
  channel: "load of ",
  zone: "minutes in zone ",
  question: "answer: ",
};

/** `tests` are the squad's own, name by name, with the code that stands in a role. */
export function roleName(role: string, tests: Record<string, string> = {}): string {
  const at = role.indexOf(":");
  if (at < 0) return ROLE_NAMES[role] ?? role.replaceAll("_", " ");
  const [kind, code] = [role.slice(0, at), role.slice(at + 1)];
  if (kind === "test") return Object.entries(tests).find(([, one]) => one === code)?.[0] ?? code;
  return `${PREFIXES[kind] ?? ""}${code.replaceAll("_", " ")}`;
}

const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const whole = new Intl.DateTimeFormat("en-GB", {
  weekday: "short",
  day: "numeric",
  month: "short",
  year: "numeric",
  timeZone: "UTC",
});

/** A day with its year: files are of other years than the screen. */
export const fullDay = (day: string) => whole.format(new Date(`${day}T00:00:00Z`)).replace(",", "");

/** Which sessions would be made: one by its day, many by where they begin and end and on which weekdays they lie. */
export function whatIsMade(days: string[]): string {
  const [first] = days;
  if (days.length === 1 && first) return `There is no session for ${fullDay(first)}: make one from the file`;
  const sorted = [...days].sort();
  const count = DAYS.map((_, i) => days.filter((day) => weekday(day) === i).length);
  const by = DAYS.flatMap((name, i) => (count[i] ? [`${name} ${count[i]}`] : [])).join(", ");
  const span = `from ${fullDay(sorted[0] ?? "")} to ${fullDay(sorted.at(-1) ?? "")}`;
  return `${days.length} sessions ${span} are not there (${by}): make them from the file`;
}

const weekday = (day: string) => (new Date(`${day}T00:00:00Z`).getUTCDay() + 6) % 7;

/** The first few of many. */
export function shortly(said: string[], most = 5): string {
  if (said.length <= most + 1) return said.join("; ");
  return `${said.slice(0, most).join("; ")} and ${said.length - most} more`;
}
