import type { ChannelItem, Channels, Draft } from "../../api/client";
import { readyToSend, type Typed, typedFrom } from "./settings";

/** A unit of work as it is typed. */
export interface TypedUnit {
  name: string;
  unit: string;
  form: string;
  settings: Typed;
  kinds: Draft["kinds"];
  regions: Draft["regions"];
  mark: string;
  from: string;
  reason: string;
  recompute: boolean;
}

export function begun(data: Channels, channel: ChannelItem | null, today: string): TypedUnit {
  const form = channel?.definition.form ?? "counted";
  const used = new Set(data.channels.map((one) => one.mark));
  return {
    name: channel?.name ?? "",
    unit: channel?.unit ?? "",
    form,
    settings: typedFrom(form, channel?.definition.settings),
    kinds: channel?.definition.kinds ?? [],
    regions: channel?.regions ?? [],
    mark: channel?.mark ?? data.marks.find((one) => !used.has(one)) ?? "ring",
    from: today,
    reason: "",
    recompute: false,
  };
}

export const readyUnit = (typed: TypedUnit): Draft => ({
  name: typed.name,
  unit: typed.unit,
  form: typed.form,
  settings: readyToSend(typed.form, typed.settings),
  kinds: typed.kinds,
  regions: typed.regions,
  mark: typed.mark,
  from_day: typed.from,
  reason: typed.reason,
});

/** The same to be tried out only: names, days and reasons do not matter to what it comes to. */
export const triedUnit = (typed: TypedUnit, today: string): Draft => ({
  ...readyUnit(typed),
  name: "preview",
  unit: "x",
  reason: "",
  from_day: today,
});
