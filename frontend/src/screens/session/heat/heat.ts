import type { Heat } from "../../../api/client";

export type Row = Heat["rows"][number];
export type Cell = Row["week"][number];
export type Part = "session" | "week";
export type By = "percent" | "z" | "amount";

/** What the table is sorted by: `week.sprint`, a leading minus for the least first; the name without one. */
export interface Order {
  part: Part;
  figure: number;
  least: boolean;
}

export function orderOf(said: string | null, codes: string[]): Order | null {
  const found = /^(-?)(session|week)\.(.+)$/.exec(said ?? "");
  const figure = codes.indexOf(found?.[3] ?? "");
  return found && figure >= 0 ? { part: found[2] as Part, figure, least: found[1] === "-" } : null;
}

/** The address after a press on a column: the most first, then the least, then by name again. */
export function pressed(order: Order | null, part: Part, figure: number, code: string): string | null {
  if (order?.part !== part || order.figure !== figure) return `${part}.${code}`;
  return order.least ? null : `-${part}.${code}`;
}

/** Rows in order; who has no figure comes last either way. */
export function sorted(rows: Row[], order: Order | null, by: By): Row[] {
  if (!order) return rows;
  const value = (row: Row) => row[order.part]?.[order.figure]?.[by] ?? null;
  const sign = order.least ? 1 : -1;
  return [...rows].sort((a, b) => {
    const [one, other] = [value(a), value(b)];
    if (one === null || other === null) return Number(one === null) - Number(other === null);
    return sign * (one - other);
  });
}

/** How far a figure is from what is usual for its owner, in steps from −2 to 2. */
export function step(z: number | null): number {
  if (z === null) return 0;
  const size = Math.abs(z) >= 2 ? 2 : Math.abs(z) >= 1 ? 1 : 0;
  return size === 0 ? 0 : z > 0 ? size : -size;
}

export const zSaid = (z: number | null): string => {
  if (z === null) return "";
  const size = Math.abs(z).toFixed(1);
  return size === "0.0" ? "0" : `${z > 0 ? "+" : "−"}${size}`;
};

/** What stands in a column: where no match has any of it, what was measured. */
export function shownBy(rows: Row[], part: Part, figure: number, by: By): By {
  if (by === "amount") return by;
  return rows.some((row) => row[part]?.[figure]?.percent != null) ? "percent" : "amount";
}
