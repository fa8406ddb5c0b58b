/** Who does what after a match, in the order in which it is read. */

import type { AfterRow } from "../../api/client";

const TITLES: [AfterRow["does"], string][] = [
  ["top_up", "Top up"],
  ["recover", "Recover"],
  ["rest", "Rest"],
  ["later", "Short of the match, no room yet"],
  ["nothing", "Neither"],
];

export interface AfterGroup {
  does: string;
  title: string;
  rows: AfterRow[];
}

/** Rows by what is done, those without anybody left out. */
export function afterGroups(rows: AfterRow[]): AfterGroup[] {
  return TITLES.map(([does, title]) => ({
    does,
    title,
    rows: rows.filter((row) => row.does === does),
  })).filter((group) => group.rows.length > 0);
}

/** Positions there are, and those of them that top up in place. */
export function positionsOf(rows: AfterRow[]): { all: string[]; inPlace: string[] } {
  const form = new Map(rows.filter((row) => row.position).map((row) => [row.position, row.form]));
  const all = [...form.keys()].sort();
  return { all, inPlace: all.filter((one) => form.get(one) === "in_place") };
}
