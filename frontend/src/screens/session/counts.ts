/** Counted repetitions: what can be tapped, and how often it was. */

import type { SessionWork } from "../../api/client";

export interface Item {
  class: string;
  surface?: string | null;
  posture?: string | null;
  count: number;
}

export interface Cell {
  key: string;
  name: string;
  channel: string;
  weight: number;
  class: string;
  surface: string | null;
}

/** A cell for each class, on each surface where the channel tells surfaces apart. */
export function cellsOf(work: SessionWork): Cell[] {
  return work.classes.flatMap((one) => {
    const surfaces = work.surfaces.filter((surface) => surface.channel === one.channel);
    const plain = { channel: one.channel, class: one.code };
    if (surfaces.length === 0)
      return [{ ...plain, key: one.code, name: one.name, weight: one.weight, surface: null }];
    return surfaces.map((surface, i) => ({
      ...plain,
      key: `${one.code} ${surface.code}`,
      name: i === 0 ? one.name : `${one.name}, ${surface.name.toLowerCase()}`,
      weight: one.weight * surface.weight,
      // The first surface is the usual one: it is not said.
      surface: i === 0 ? null : surface.code,
    }));
  });
}

export function itemsOf(data: Record<string, unknown> | undefined): Item[] {
  return Array.isArray(data?.items) ? (data.items as Item[]) : [];
}

const isOf = (item: Item, cell: Cell) =>
  item.class === cell.class && (item.surface ?? null) === cell.surface && !item.posture;

export function countIn(items: Item[], cell: Cell): number {
  return items.find((item) => isOf(item, cell))?.count ?? 0;
}

/** The items with another count in one cell; what is counted elsewhere stays as it is. */
export function withCount(items: Item[], cell: Cell, count: number): Item[] {
  const others = items.filter((item) => !isOf(item, cell));
  return [...others, { class: cell.class, surface: cell.surface, posture: null, count: Math.max(count, 0) }];
}
