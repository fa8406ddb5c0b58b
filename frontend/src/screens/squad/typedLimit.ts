import type { LimitItem, Limits, NewLimit, RuleItem } from "../../api/client";
import type { Place } from "../../frame/place";
import { typedNumber } from "../../kit/fields";

export interface LimitStart {
  rule: string;
  /** An athlete's id, "choose" for one still to be picked, null for the squad. */
  athlete: number | "choose" | null;
  channel?: string;
  /** The limit whose terms to begin with. */
  like?: LimitItem;
}

/** A limit as it is typed: text and choices. */
export interface TypedLimit {
  rule: string;
  value: string;
  channel: string;
  school: string;
  over: string;
  binding: "hard" | "advisory";
  scope: NewLimit["scope"];
  athlete: string;
  position: string;
  from: string;
  reason: string;
}

const round = (value: number) => Math.round(value * 1e6) / 1e6;

/** A share is typed in per cent, everything else as it is. */
const shown = (rule: RuleItem | undefined, value: number) =>
  String(rule?.unit === "share" ? round(value * 100) : value);

const UNITS: Record<RuleItem["unit"], string> = {
  share: "%",
  ratio: "times base load",
  load: "",
  days: "days",
  plain: "",
};

export const ruleOf = (limits: Limits, code: string) => limits.rules.find((one) => one.code === code);

/** What stands behind the number of a limit: loads are in the unit of their channel. */
export function unitOf(limits: Limits, typed: TypedLimit): string {
  const rule = ruleOf(limits, typed.rule);
  if (rule?.unit === "load") return limits.channels.find((one) => one.code === typed.channel)?.unit ?? "";
  return rule ? UNITS[rule.unit] : "";
}

export function begun(
  place: Place,
  limits: Limits,
  { rule, athlete, channel, like }: LimitStart,
): TypedLimit {
  return {
    rule,
    value: like ? shown(ruleOf(limits, rule), like.value) : "",
    channel: like?.channel ?? channel ?? limits.channels[0]?.code ?? "",
    school: like?.school ?? "ewma",
    over: String(like?.over ?? 1),
    binding: like && !like.hard ? "advisory" : "hard",
    scope: athlete === null ? (like?.scope ?? "squad") : "athlete",
    athlete: typeof athlete === "number" ? String(athlete) : "",
    position: like?.position ?? "",
    from: place.squad.today,
    reason: "",
  };
}

export const checkLimit = (typed: TypedLimit) => ({
  value: Number.isNaN(typedNumber(typed.value)) ? "A number, such as 15." : null,
  athlete_id: typed.scope === "athlete" && !typed.athlete ? "Choose an athlete." : null,
  position: typed.scope === "position" && !typed.position ? "Choose a position." : null,
  reason: typed.reason.trim() ? null : "Say why: the reason stands beside the limit.",
});

/** The limit as it is sent. One that is as it was keeps its source. */
export function readyLimit(
  limits: Limits,
  like: LimitItem | undefined,
  id: string,
  typed: TypedLimit,
  /** Somebody else's that was shown meanwhile. */
  shown: string | null = null,
): NewLimit {
  const rule = ruleOf(limits, typed.rule);
  const number = typedNumber(typed.value);
  const value = rule?.unit === "share" ? round(number / 100) : number;
  const terms = {
    channel: typed.channel,
    rule: typed.rule,
    school: rule?.has_school ? (typed.school as NewLimit["school"]) : null,
    scope: typed.scope,
    position: typed.scope === "position" ? typed.position : null,
    athlete_id: typed.scope === "athlete" ? Number(typed.athlete) : null,
  };
  const names = Object.keys(terms) as (keyof typeof terms)[];
  const standing = limits.limits.find((one) => names.every((name) => one[name] === terms[name]));
  return {
    ...terms,
    id,
    replaces: shown ?? standing?.id ?? null,
    value,
    over: rule?.has_over ? typedNumber(typed.over) : null,
    hard: typed.binding === "hard",
    from_day: typed.from,
    source: like && like.rule === typed.rule && like.value === value ? like.source : "",
    reason: typed.reason,
  };
}
