/** Calendar days as ISO text, and as the screens write them. A day has no time and no zone. */

const parts = (day: string) => new Date(`${day}T00:00:00Z`);

const form = (options: Intl.DateTimeFormatOptions) => {
  const format = new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", ...options });
  return (day: string) => format.format(parts(day)).replace(",", "");
};

export const shortDay = form({ weekday: "short", day: "numeric" });
export const dayAndMonth = form({ day: "numeric", month: "short" });
export const longDay = form({ weekday: "long", day: "numeric", month: "long", year: "numeric" });
export const monthName = form({ month: "long", year: "numeric" });
export const mediumDay = form({ weekday: "short", day: "numeric", month: "long" });

export function plusDays(day: string, days: number): string {
  const moved = parts(day);
  moved.setUTCDate(moved.getUTCDate() + days);
  return moved.toISOString().slice(0, 10);
}

export function isDay(text: string | null): text is string {
  return text !== null && /^\d{4}-\d{2}-\d{2}$/.test(text) && !Number.isNaN(parts(text).getTime());
}

export function clockTime(instant: string, timeZone: string): string {
  return new Intl.DateTimeFormat("en-GB", { hour: "2-digit", minute: "2-digit", timeZone }).format(
    new Date(instant),
  );
}
