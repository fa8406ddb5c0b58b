import { expect, it } from "vitest";
import { lookingAt, newCriterion, newStage, sentStages, typedStages, wrongIn } from "./stagesEdit";

const pain = {
  key: "pain",
  looks: "pain",
  name: "Pain, then next morning",
  during: 0,
  after: 1,
  many: 3,
  percent: 0,
};
const stage = {
  content: "passing",
  criteria: [
    pain,
    { ...pain, key: "range", looks: "sides", name: "Range, arm raised", after: 0, many: 0, percent: 15 },
    { ...pain, key: "word", looks: "word", name: "Clinician’s word", after: 0, many: 0 },
  ],
  effort_cap: 7,
  minutes_share: 0.5,
  closed: false,
  entry: [],
} as Parameters<typeof typedStages>[0][number];

it("sends what was there as it was there", () => {
  expect(sentStages(typedStages([stage, { ...stage, effort_cap: null, minutes_share: null }]))).toEqual([
    stage,
    { ...stage, effort_cap: null, minutes_share: null },
  ]);
});

it("keeps what is measured by its key, and gives what is new one by its name", () => {
  const [typed] = typedStages([stage]);
  if (!typed) throw new Error();
  const renamed = typed.criteria.map((one) => (one.key === "range" ? { ...one, name: "Range, other" } : one));
  const fresh = { ...newCriterion("sides"), name: "Größe – Strength, inward and further" };
  const criteria = [...renamed, fresh, { ...newCriterion("best"), name: "–" }];
  const [sent] = sentStages([{ ...typed, criteria }]);
  expect(sent?.criteria.map((one) => one.key)).toEqual([
    "pain",
    "range",
    "word",
    "gro_e_strength_inward_an",
    "measured",
  ]);
});

it("takes only the numbers that a criterion has, and says where none stands", () => {
  const typed = {
    ...newStage(),
    effort: "much",
    criteria: [{ ...newCriterion("pain"), many: "", percent: "x" }],
    entry: [{ ...newCriterion("sides"), percent: "7,5", many: "4" }],
  };
  expect(wrongIn([newStage(), typed])).toEqual([
    { field: "stages.1.effort_cap", detail: "A number." },
    { field: "stages.1.criteria.0.many", detail: "A number." },
    { field: "stages.1.entry.0.name", detail: "Say what is measured." },
  ]);
  expect(sentStages([typed])[0]?.entry[0]).toMatchObject({ percent: 7.5, many: 0 });
});

it("looks at another thing under its usual name, and keeps one that was typed", () => {
  const strength = { ...newCriterion("sides"), name: "Strength" };
  expect(lookingAt(strength, "best")).toMatchObject({ id: strength.id, name: "Strength", percent: "90" });
  expect(lookingAt(strength, "pain")).toMatchObject({ name: "Pain, then next morning", during: "2" });
  expect(lookingAt(newCriterion("days"), "sides").name).toBe("");
});
