import { useQuery } from "@tanstack/react-query";
import { api, ask, type TestItem } from "../../api/client";
import { anchorsQuery } from "../../api/queries/athlete";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { typedNumber } from "../../kit/fields";
import { AreaField, ChoiceField, Form, type Sending, TextField, useSending } from "../../kit/form";
import { useDoing } from "../../kit/useDoing";

interface TestFormProps {
  place: Place;
  /** Null makes a new one. */
  test: TestItem | null;
  onDone: (saved: TestItem | null) => void;
}

type TypedTest = ReturnType<typeof begun>;

const begun = (test: TestItem | null) => ({
  name: test?.name ?? "",
  unit: test?.unit ?? "",
  better: test?.better ?? ("higher" as TestItem["better"]),
  trials: String(test?.trials ?? 3),
  sides: test?.sides ?? false,
  combine: test?.combine ?? ("best" as TestItem["combine"]),
  typical_error: test?.typical_error == null ? "" : String(test.typical_error),
  worthwhile: test?.worthwhile == null ? "" : String(test.worthwhile),
  protocol: test?.protocol ?? "",
  jump: test?.jump ?? false,
  anchor: test?.anchor ?? ("" as NonNullable<TestItem["anchor"]> | ""),
});

const number = (text: string) => (text.trim() ? typedNumber(text) : null);

const ready = (typed: TypedTest) => ({
  ...typed,
  trials: Number(typed.trials) || 0,
  typical_error: number(typed.typical_error),
  worthwhile: number(typed.worthwhile),
  protocol: typed.protocol || null,
  anchor: typed.anchor || null,
});

/** How a test is done and what counts as a change in it. */
export function TestForm({ place, test, onDone }: TestFormProps) {
  const slug = place.squad.slug;
  const toast = useToast();
  const of = useSending<TypedTest, TestItem>({
    start: begun(test),
    seen: test?.version,
    send: (typed, seen) => {
      const body = { ...ready(typed), version: seen as number | null };
      return test
        ? ask(
            api.PUT("/api/squads/{slug}/tests/{code}", { params: { path: { slug, code: test.code } }, body }),
          )
        : ask(api.POST("/api/squads/{slug}/tests", { params: { path: { slug } }, body }));
    },
    saved: (saved) => {
      toast(`${saved.name} is saved.`);
      onDone(saved);
    },
    renews: [slug, "tests"],
  });
  return (
    <Form
      of={of}
      head={test ? "Change this test" : "A new test"}
      action="Save"
      leave="Leave it"
      onLeave={() => onDone(null)}
      foot={test && <LeaveOut slug={slug} test={test} onDone={() => onDone(null)} />}
    >
      <TextField of={of} name="name" label="Name" />
      <div className="form-pair">
        <TextField of={of} name="unit" label="Unit" />
        <TextField of={of} name="trials" label="Trials" inputMode="numeric" />
      </div>
      <div className="form-pair">
        <ChoiceField of={of} name="better" label="Better is" options={BETTER} />
        <ChoiceField of={of} name="combine" label="What stands" options={COMBINE} />
      </div>
      <label className="tick-line">
        <input type="checkbox" {...of.form.register("sides")} /> Left and right
      </label>
      {of.wrong("sides") && <p className="over">{of.wrong("sides")}</p>}
      <div className="form-pair">
        <TextField
          of={of}
          name="typical_error"
          label="Typical error"
          placeholder="worked out"
          inputMode="decimal"
        />
        <TextField of={of} name="worthwhile" label="Smallest worthwhile change" inputMode="decimal" />
      </div>
      <label className="tick-line">
        <input type="checkbox" {...of.form.register("jump")} /> A jump: held beside energy and effort, it is
        one of three signals
      </label>
      <AnchorField of={of} place={place} />
      <AreaField of={of} name="protocol" label="How it is done" />
    </Form>
  );
}

const BETTER = [
  ["higher", "higher is better"],
  ["lower", "lower is better"],
] as const;

const COMBINE = [
  ["best", "the best trial stands"],
  ["mean", "the mean stands"],
] as const;

function AnchorField({ of, place }: { of: Sending<TypedTest>; place: Place }) {
  const anchors = useQuery(anchorsQuery(place.squad.slug, place.day));
  const kinds = anchors.data?.kinds.filter((kind) => kind.words.length === 0) ?? [];
  return (
    <ChoiceField
      of={of}
      name="anchor"
      label="A result becomes the athlete’s"
      none="nothing: it is a result only"
      options={kinds.map((kind) => [kind.kind, `${kind.name.toLowerCase()}, ${kind.unit}`])}
    />
  );
}

/** Takes a test off the list, and puts it back if that was not meant. */
function LeaveOut({ slug, test, onDone }: { slug: string; test: TestItem; onDone: () => void }) {
  const toast = useToast();
  const path = { slug, code: test.code };
  const { code: _code, ...body } = test;
  const putBack = useDoing(
    [slug, "tests"],
    () => ask(api.PUT("/api/squads/{slug}/tests/{code}", { params: { path }, body })),
    (back) => toast(`${back.name} is on the list again.`),
  );
  const leaveOut = useDoing(
    [slug, "tests"],
    () => ask(api.DELETE("/api/squads/{slug}/tests/{code}", { params: { path } })),
    () => {
      toast(`${test.name} is off the list; its results are kept.`, () => putBack.mutate());
      onDone();
    },
  );
  return (
    <div>
      <button type="button" className="text-button" onClick={() => leaveOut.mutate()}>
        Take it off the list
      </button>
    </div>
  );
}
