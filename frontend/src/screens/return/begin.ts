/** What a plan to come back is begun with, as it is typed and as it is sent. */

import type { NewReturn, Site } from "../../api/client";
import { typedNumber } from "../../kit/fields";

export type Kind = NewReturn["kind"];
export type School = NonNullable<NewReturn["school"]>;

export interface TypedReturn {
  athlete_id: string;
  kind: string;
  template: string;
  site: string;
  side: string;
  first_off: string;
  first_day: string;
  target_day: string;
  needed: string;
  school: string;
  usual: string;
  note: string;
  onset: string;
  mechanism: string;
  replaces: boolean;
}

export const KINDS: readonly (readonly [Kind, string])[] = [
  ["injury", "an injury"],
  ["illness", "an illness"],
  ["layoff", "a break"],
  ["new", "nothing: new in the squad"],
];

/** What only a clinician plans. */
export const CLINICAL: ReadonlySet<Kind> = new Set(["injury", "illness"]);

export const SCHOOLS: readonly (readonly [School, string])[] = [
  ["standard", "by the length of the break"],
  ["slower", "slower: as after a longer break"],
  ["faster", "faster: as after a shorter break"],
];

const PLACES: Site[] = [
  "head",
  "neck",
  "chest",
  "belly",
  "upper back",
  "lower back",
  "shoulder",
  "upper arm",
  "elbow",
  "forearm",
  "wrist or hand",
  "hip or groin",
  "buttock",
  "front of the thigh",
  "back of the thigh",
  "knee",
  "shin",
  "calf",
  "ankle",
  "foot",
];
type Onset = NonNullable<NewReturn["onset"]>;
type Mechanism = NonNullable<NewReturn["mechanism"]>;
export const ONSETS: readonly (readonly [Onset, string])[] = [
  ["sudden", "all at once"],
  ["gradual", "bit by bit"],
];
export const MECHANISMS: readonly (readonly [Mechanism, string])[] = [
  ["contact", "contact with somebody"],
  ["landing", "a landing"],
  ["turn", "a turn or a stop"],
  ["sprint", "a sprint"],
  ["throw", "a throw"],
  ["overuse", "too much of something"],
  ["infection", "an infection"],
  ["other", "something else"],
];
export const SITES = PLACES.map((one) => [one, one] as const);

/** What is typed as it is sent; `running` is the plan that this one takes the place of, if it is to. */
export function bodyOf(typed: TypedReturn, running?: string): NewReturn {
  const kind = typed.kind as Kind;
  const clinical = CLINICAL.has(kind);
  return {
    athlete_id: Number(typed.athlete_id),
    kind,
    template: clinical ? typed.template : "blank",
    site: clinical && typed.site ? (typed.site as Site) : null,
    side: clinical && typed.site && typed.side ? (typed.side as "left" | "right") : null,
    first_off: kind === "new" ? null : typed.first_off,
    first_day: typed.first_day,
    target_day: typed.target_day || null,
    needed: typedNumber(typed.needed),
    school: typed.school as School,
    usual: typed.usual.trim() ? typedNumber(typed.usual) : null,
    note: clinical ? typed.note : "",
    onset: clinical && typed.onset ? (typed.onset as Onset) : null,
    mechanism: clinical && typed.mechanism ? (typed.mechanism as Mechanism) : null,
    replaces: typed.replaces ? (running ?? null) : null,
    stage: 1,
  };
}
