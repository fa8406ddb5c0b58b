/** Reports in the words of the staff's screens. */

import type { ComplaintItem, ReportRow } from "../../api/client";

/** Short heads of the daily items; on all of them but sleep in hours 10 is the good end. */
export const HEADS: Record<string, string> = {
  sleep_hours: "sleep, h",
  sleep_quality: "sleep",
  energy: "energy",
  soreness: "muscles",
  mood: "mood",
  stress: "calm",
  drive: "drive",
  appetite: "appetite",
  resting_heart_rate: "rest, bpm",
  heart_rate_variability: "ln rMSSD",
  body_mass: "mass, kg",
};

export const AVAILABILITY = {
  full: "trains fully",
  limited: "trains in part",
  out: "does not train",
} as const;

/** How much somebody trains who stands so on the day, whatever it rests on. */
export const TRAINING: Record<ReportRow["stands"], keyof typeof AVAILABILITY> = {
  plan: "full",
  ask: "limited",
  part: "limited",
  recover: "limited",
  rest: "out",
  out: "out",
  wait: "out",
};

/** How somebody trains on the day, in words: "trains in part: no duels", "ask staff first". */
export function trainingText(row: ReportRow): string {
  if (row.stands === "ask") return row.said;
  const word = AVAILABILITY[TRAINING[row.stands]];
  return row.said && row.said !== AVAILABILITY.out ? `${word}: ${row.said}` : word;
}

/** First those to do something about: who is missing, or, for a coach, who does not train fully. Then by name. */
export function inOrder(rows: ReportRow[]): ReportRow[] {
  const limited = (row: ReportRow) => row.stands !== "plan";
  const rank = (row: ReportRow) => {
    if (row.state === "hidden") return limited(row) ? 0 : 1;
    return row.state === "missing" ? 0 : row.unrated.length > 0 ? 1 : 2;
  };
  return [...rows].sort((one, other) => rank(one) - rank(other) || one.name.localeCompare(other.name));
}

/** Whether no clinician has looked at it yet, or it is to be looked at again. */
export const isNew = (complaint: ComplaintItem) => complaint.unseen;

/** One text for everybody who is missing. */
export function reminderForAll(rows: ReportRow[]): string {
  const names = rows.filter((row) => row.state === "missing").map((row) => row.name);
  return `Still missing this morning: ${names.join(", ")}. It takes under 20 seconds: ${window.location.origin}`;
}
