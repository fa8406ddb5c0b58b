import { plusDays } from "../../frame/days";

/** Monday of the week of a day. */
export const mondayOf = (day: string) => plusDays(day, -((new Date(`${day}T00:00Z`).getUTCDay() + 6) % 7));

/** The days of a month's calendar, whole weeks from a Monday to a Sunday. */
export function monthDays(day: string): string[] {
  const first = `${day.slice(0, 7)}-01`;
  const begin = mondayOf(first);
  const days: string[] = [];
  for (let one = begin; one.slice(0, 7) <= day.slice(0, 7) || days.length % 7 !== 0; one = plusDays(one, 1)) {
    days.push(one);
  }
  return days;
}

/** The same day of another month, or its last one. */
export function otherMonth(day: string, step: -1 | 1): string {
  const [year = 0, month = 1, date = 1] = day.split("-").map(Number);
  const last = new Date(Date.UTC(year, month + step, 0)).getUTCDate();
  return new Date(Date.UTC(year, month - 1 + step, Math.min(date, last))).toISOString().slice(0, 10);
}
