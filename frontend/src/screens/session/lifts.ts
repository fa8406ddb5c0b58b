/** Lines of a lifting sheet as they are typed, and as they are sent. */

import { typedNumber } from "../../kit/fields";

export interface Line {
  key: number;
  exercise: string;
  sets: string;
  reps: string;
  kg: string;
  reserve: string;
  rest: string;
  speed: string;
  percent: string;
}

export interface Lift {
  exercise: string;
  sets: number;
  reps: number;
  kg: number;
  reserve?: number;
  rest_seconds?: number;
  bar_speed?: number;
}

let keys = 0;

export function emptyLine(): Line {
  keys += 1;
  return {
    key: keys,
    exercise: "",
    sets: "",
    reps: "",
    kg: "",
    reserve: "",
    rest: "",
    speed: "",
    percent: "",
  };
}

export function lineFrom(item: Record<string, unknown>): Line {
  const text = (name: string) => (item[name] == null ? "" : String(item[name]));
  return {
    ...emptyLine(),
    exercise: text("exercise"),
    sets: text("sets"),
    reps: text("reps"),
    kg: text("kg"),
    reserve: text("reserve"),
    rest: text("rest_seconds"),
    speed: text("bar_speed"),
  };
}

/** What can be sent, of which line each is, and which fields of which lines are missing or no numbers. */
export function sentLines(lines: Line[]): { items: Lift[]; at: number[]; wrong: Map<number, string[]> } {
  const items: Lift[] = [];
  const at: number[] = [];
  const wrong = new Map<number, string[]>();
  lines.forEach((line, i) => {
    const typed = [line.sets, line.reps, line.kg].some(Boolean);
    if (!line.exercise.trim() && !typed) return;
    const missing: string[] = line.exercise.trim() ? [] : ["exercise"];
    const need = (field: "sets" | "reps" | "kg") => {
      const value = typedNumber(line[field]);
      if (Number.isNaN(value)) missing.push(field);
      return value;
    };
    const item: Lift = {
      exercise: line.exercise.trim(),
      sets: need("sets"),
      reps: need("reps"),
      kg: need("kg"),
    };
    for (const [field, name] of [
      ["reserve", "reserve"],
      ["rest", "rest_seconds"],
      ["speed", "bar_speed"],
    ] as const) {
      if (!line[field].trim()) continue;
      const value = typedNumber(line[field]);
      if (Number.isNaN(value)) missing.push(field);
      else item[name] = value;
    }
    if (missing.length) {
      // A line that was only begun is not wrong yet.
      if (typed) wrong.set(i, missing);
      return;
    }
    items.push(item);
    at.push(i);
  });
  return { items, at, wrong };
}

/** What a typed per cent of an estimated maximum comes to: to the plates there are, half a kilogram at the least. */
export function ofMaximum(percent: string, max: number | undefined): Partial<Line> {
  const share = typedNumber(percent);
  if (!max || Number.isNaN(share)) return { percent };
  return { percent, kg: String(Math.round((share / 100) * max * 2) / 2) };
}
