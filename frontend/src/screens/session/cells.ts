/** Cells of the grid: reading what was typed, and what may stand in them. */

import type { GridRow } from "../../api/client";
import { short } from "../../frame/numbers";

export const FIELDS = ["minutes", "effort", "words"] as const;
export type Field = (typeof FIELDS)[number];

export interface Values {
  minutes: number | null;
  effort: number | null;
  words: string | null;
}

export type Read = { value: number | string | null } | { wrong: string };

export const RANGES = {
  minutes: "Minutes are 0 to 600.",
  effort: "Effort is 0 to 10, in half points.",
} as const;

/** What was typed into a cell as a value; a decimal comma is as good as a point, and nothing is no value. */
export function readCell(field: Field, text: string): Read {
  const typed = text.trim();
  if (typed === "") return { value: null };
  if (field === "words")
    return typed.length > 2000 ? { wrong: "Words are 2000 characters at most." } : { value: typed };
  const value = /^[−-]?\d+([.,]\d*)?$/.test(typed)
    ? Number(typed.replace("−", "-").replace(",", "."))
    : Number.NaN;
  const fits =
    field === "minutes" ? value >= 0 && value <= 600 : value >= 0 && value <= 10 && (value * 2) % 1 === 0;
  return fits ? { value } : { wrong: RANGES[field] };
}

export function showCell(row: Values, field: Field): string {
  const value = row[field];
  if (value === null) return "";
  return typeof value === "number" ? short(value) : value;
}

export const valuesOf = (row: GridRow): Values => ({
  minutes: row.minutes,
  effort: row.effort,
  words: row.words,
});

/** Text from a spreadsheet as rows of cells. */
export function readPasted(text: string): string[][] {
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n$/, "").split("\n");
  return lines.map((line) => line.split("\t"));
}

export const cellKey = (athlete: number, field: Field) => `${athlete} ${field}`;
