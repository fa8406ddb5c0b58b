import { Button, Input, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type TestItem } from "../../api/client";
import { anchorsQuery } from "../../api/queries";
import { Labelled, Select, typedNumber } from "../../frame/fields";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";

interface TestFormProps {
  place: Place;
  /** Null makes a new one. */
  test: TestItem | null;
  onDone: (saved: TestItem | null) => void;
}

/** How a test is done and what counts as a change in it. */
export function TestForm({ place, test, onDone }: TestFormProps) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const [name, setName] = useState(test?.name ?? "");
  const [unit, setUnit] = useState(test?.unit ?? "");
  const [better, setBetter] = useState<TestItem["better"]>(test?.better ?? "higher");
  const [trials, setTrials] = useState(String(test?.trials ?? 3));
  const [sides, setSides] = useState(test?.sides ?? false);
  const [combine, setCombine] = useState<TestItem["combine"]>(test?.combine ?? "best");
  const [error, setError] = useState(test?.typical_error == null ? "" : String(test.typical_error));
  const [worthwhile, setWorthwhile] = useState(test?.worthwhile == null ? "" : String(test.worthwhile));
  const [protocol, setProtocol] = useState(test?.protocol ?? "");
  const [anchor, setAnchor] = useState<NonNullable<TestItem["anchor"]> | "">(test?.anchor ?? "");
  const anchors = useQuery(anchorsQuery(slug, place.day));
  const kinds = anchors.data?.kinds.filter((kind) => kind.words.length === 0) ?? [];
  const number = (text: string) => (text.trim() ? typedNumber(text) : null);
  const save = useMutation<TestItem, Problem>({
    mutationFn: () => {
      const body = {
        name,
        unit,
        better,
        trials: Number(trials) || 0,
        sides,
        combine,
        typical_error: number(error),
        worthwhile: number(worthwhile),
        protocol: protocol || null,
        anchor: anchor || null,
      };
      return test
        ? ask(
            api.PUT("/api/squads/{slug}/tests/{code}", { params: { path: { slug, code: test.code } }, body }),
          )
        : ask(api.POST("/api/squads/{slug}/tests", { params: { path: { slug } }, body }));
    },
    onSuccess: (saved) => {
      askAgain(queries, [slug, "tests"]);
      toast(`${saved.name} is saved.`);
      onDone(saved);
    },
  });
  const path = { slug, code: test?.code ?? "" };
  const renew = () => askAgain(queries, [slug, "tests"]);
  const putBack = useMutation<TestItem, Problem, TestItem>({
    mutationFn: ({ code: _code, ...body }) =>
      ask(api.PUT("/api/squads/{slug}/tests/{code}", { params: { path }, body })),
    onSuccess: (back) => toast(`${back.name} is on the list again.`),
    onError: (problem) => toast(problem.message),
    onSettled: renew,
  });
  const leaveOut = useMutation<unknown, Problem, TestItem>({
    mutationFn: () => ask(api.DELETE("/api/squads/{slug}/tests/{code}", { params: { path } })),
    onSuccess: (_done, left) => {
      renew();
      toast(`${left.name} is off the list; its results are kept.`, () => putBack.mutate(left));
      onDone(null);
    },
    onError: (problem) => toast(problem.message),
  });
  const wrong = (field: string) => save.error?.of(field);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <form className="form-rows test-form" onSubmit={submit} noValidate>
      <h2 className="side-head">{test ? "Change this test" : "A new test"}</h2>
      <Labelled label="Name" error={wrong("name")}>
        <Input size="sm" value={name} onChange={(event) => setName(event.target.value)} />
      </Labelled>
      <div className="form-pair">
        <Labelled label="Unit" error={wrong("unit")}>
          <Input size="sm" value={unit} onChange={(event) => setUnit(event.target.value)} />
        </Labelled>
        <Labelled label="Trials" error={wrong("trials")}>
          <Input
            size="sm"
            inputMode="numeric"
            value={trials}
            onChange={(event) => setTrials(event.target.value)}
          />
        </Labelled>
      </div>
      <div className="form-pair">
        <Select label="Better is" value={better} onChange={(value) => setBetter(value as typeof better)}>
          <option value="higher">higher is better</option>
          <option value="lower">lower is better</option>
        </Select>
        <Select label="What stands" value={combine} onChange={(value) => setCombine(value as typeof combine)}>
          <option value="best">the best trial stands</option>
          <option value="mean">the mean stands</option>
        </Select>
      </div>
      {wrong("better") && <p className="over">{wrong("better")}</p>}
      <label className="tick-line">
        <input type="checkbox" checked={sides} onChange={(event) => setSides(event.target.checked)} /> Left
        and right
      </label>
      {wrong("sides") && <p className="over">{wrong("sides")}</p>}
      <div className="form-pair">
        <Labelled label="Typical error; empty works it out" error={wrong("typical_error")}>
          <Input
            size="sm"
            inputMode="decimal"
            value={error}
            onChange={(event) => setError(event.target.value)}
          />
        </Labelled>
        <Labelled label="Smallest worthwhile change" error={wrong("worthwhile")}>
          <Input
            size="sm"
            inputMode="decimal"
            value={worthwhile}
            onChange={(event) => setWorthwhile(event.target.value)}
          />
        </Labelled>
      </div>
      <Labelled label="A result becomes the athlete’s" error={wrong("anchor")}>
        <Select
          label="A result becomes the athlete’s"
          value={anchor}
          onChange={(value) => setAnchor(value as typeof anchor)}
        >
          <option value="">nothing: it is a result only</option>
          {kinds.map((kind) => (
            <option key={kind.kind} value={kind.kind}>
              {kind.name.toLowerCase()}, {kind.unit}
            </option>
          ))}
        </Select>
      </Labelled>
      <Labelled label="How it is done" error={wrong("protocol")}>
        <Textarea size="sm" rows={2} value={protocol} onChange={(event) => setProtocol(event.target.value)} />
      </Labelled>
      {save.isError && save.error.errors.length === 0 && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <div>
        <Button type="submit" size="sm" loading={save.isPending}>
          Save
        </Button>{" "}
        <button type="button" className="text-button" onClick={() => onDone(null)}>
          Leave it
        </button>
        {test && (
          <button
            type="button"
            className="text-button"
            style={{ float: "right" }}
            onClick={() => leaveOut.mutate(test)}
          >
            Take it off the list
          </button>
        )}
      </div>
    </form>
  );
}
