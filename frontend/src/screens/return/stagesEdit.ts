import type { FieldError, ReturnWhole } from "../../api/client";
import { typedNumber } from "../../kit/fields";

type Stage = ReturnWhole["stages"][number];
type Criterion = Stage["criteria"][number];
export type Looks = Criterion["looks"];
type Amount = "during" | "after" | "many" | "percent";

/** A criterion as it is typed; ``id`` tells it from others while it is. */
export interface TypedCriterion extends Record<Amount, string> {
  id: string;
  key: string;
  looks: Looks;
  name: string;
}

/** A stage as it is typed. */
export interface TypedStage {
  id: string;
  content: string;
  effort: string;
  minutes: string;
  closed: boolean;
  criteria: TypedCriterion[];
  entry: TypedCriterion[];
}

/** What a criterion may look at: its name there, and the numbers that it takes. */
export const LOOKS: Record<
  Looks,
  { says: string; name: string; takes: readonly (readonly [Amount, string])[] }
> = {
  pain: {
    says: "pain",
    name: "Pain, then next morning",
    takes: [
      ["during", "in a session, of 10"],
      ["after", "next morning"],
      ["many", "sessions running"],
    ],
  },
  sides: { says: "side against side", name: "", takes: [["percent", "% weaker at most"]] },
  best: { says: "test against own best", name: "", takes: [["percent", "% of it at least"]] },
  sessions: { says: "no reaction", name: "Sessions without reaction", takes: [["many", "sessions running"]] },
  days: { says: "days", name: "Days in this stage", takes: [["many", "days at least"]] },
  word: { says: "clinician’s word", name: "Clinician’s word", takes: [] },
};

const text = (value: number | null | undefined) => (value ? String(value) : "");

let made = 0;
const newId = () => `n${made++}`;

const typedCriterion = (one: Criterion): TypedCriterion => ({
  id: newId(),
  key: one.key,
  looks: one.looks,
  name: one.name,
  during: one.looks === "pain" ? String(one.during) : "",
  after: one.looks === "pain" ? String(one.after) : "",
  many: text(one.many),
  percent: text(one.percent),
});

export const typedStages = (stages: Stage[]): TypedStage[] =>
  stages.map((one) => ({
    id: newId(),
    content: one.content,
    effort: text(one.effort_cap),
    minutes: one.minutes_share == null ? "" : String(Math.round(one.minutes_share * 100)),
    closed: one.closed ?? false,
    criteria: one.criteria.map(typedCriterion),
    entry: (one.entry ?? []).map(typedCriterion),
  }));

export const newStage = (): TypedStage => ({
  id: newId(),
  content: "",
  effort: "",
  minutes: "",
  closed: false,
  criteria: [newCriterion("word")],
  entry: [],
});

export const newCriterion = (looks: Looks): TypedCriterion => ({
  id: newId(),
  key: "",
  looks,
  name: LOOKS[looks].name,
  during: looks === "pain" ? "2" : "",
  after: looks === "pain" ? "1" : "",
  many: looks === "word" || looks === "sides" || looks === "best" ? "" : "3",
  percent: looks === "sides" ? "10" : looks === "best" ? "90" : "",
});

/** Another thing that is looked at, under its own name where that was not typed by hand. */
export function lookingAt(one: TypedCriterion, looks: Looks): TypedCriterion {
  const fresh = newCriterion(looks);
  const own = one.name !== "" && one.name !== LOOKS[one.looks].name;
  return { ...fresh, id: one.id, name: own && LOOKS[looks].name === "" ? one.name : fresh.name };
}

/** The key that what is measured is kept by: the one it has, else from its name, like the others of that name. */
const keyOf = (one: TypedCriterion) => {
  if (one.key) return one.key;
  if (one.looks !== "sides" && one.looks !== "best") return one.looks;
  const plain = one.name
    .normalize("NFKD")
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "_")
    .replace(/^_|_$/g, "");
  return plain.slice(0, 24) || "measured";
};

const sentCriterion = (one: TypedCriterion) => {
  const takes = new Set(LOOKS[one.looks].takes.map(([amount]) => amount));
  const amount = (name: Amount) => (takes.has(name) ? typedNumber(one[name]) || 0 : 0);
  return {
    key: keyOf(one),
    looks: one.looks,
    name: one.name.trim(),
    during: amount("during"),
    after: amount("after"),
    many: Math.round(amount("many")),
    percent: amount("percent"),
  };
};

const orNull = (typed: string) => (typed.trim() ? typedNumber(typed) : null);

/** The stages as they are sent. */
export const sentStages = (stages: TypedStage[]) =>
  stages.map((one) => {
    const share = orNull(one.minutes);
    return {
      content: one.content.trim(),
      effort_cap: orNull(one.effort),
      minutes_share: share === null ? null : share / 100,
      closed: one.closed,
      criteria: one.criteria.map(sentCriterion),
      entry: one.entry.map(sentCriterion),
    };
  });

/** What is wrong before anything is sent: a name or a number that is not there, by its place. */
export function wrongIn(stages: TypedStage[]): FieldError[] {
  const numbers = (field: string, wrong: boolean) => (wrong ? [{ field, detail: "A number." }] : []);
  const bad = (typed: string) => typed.trim() !== "" && Number.isNaN(typedNumber(typed));
  return stages.flatMap((stage, i) => [
    ...numbers(`stages.${i}.effort_cap`, bad(stage.effort)),
    ...numbers(`stages.${i}.minutes_share`, bad(stage.minutes)),
    ...(["criteria", "entry"] as const).flatMap((list) =>
      stage[list].flatMap((one, j) => {
        const at = `stages.${i}.${list}.${j}`;
        return [
          ...(one.name.trim() ? [] : [{ field: `${at}.name`, detail: "Say what is measured." }]),
          ...LOOKS[one.looks].takes.flatMap(([amount]) =>
            numbers(`${at}.${amount}`, Number.isNaN(typedNumber(one[amount]))),
          ),
        ];
      }),
    ),
  ]);
}
