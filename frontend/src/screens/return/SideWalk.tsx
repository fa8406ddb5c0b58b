import { Button, Input } from "@chakra-ui/react";
import { useState } from "react";
import { api, ask, type Problem, type SideRow } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled, typedNumber } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { PairLines, type TypedPair, typedPairs } from "./PairLines";

interface Props {
  place: Place;
  row: SideRow;
  check: string;
  onDone: () => void;
}

const HOW = [
  ["", "not decided"],
  ["first", "the weaker side first"],
  ["sets", "added sets on the weaker side"],
  ["matched", "matched repetitions"],
] as const;

/** The walk, in order: range of motion by joint, strength by joint; what then suits, and when it is tested again. */
export function SideWalk({ place, row, check, onDone }: Props) {
  const { slug } = place.squad;
  const toast = useToast();
  const [ranges, setRanges] = useState(() => typedPairs(row.ranges));
  const [strengths, setStrengths] = useState(() => typedPairs(row.strengths));
  const [how, setHow] = useState<string>(row.how ?? "");
  const [sets, setSets] = useState(row.sets ? String(row.sets) : "");
  const [retest, setRetest] = useState(row.retest_on ?? "");
  const [words, setWords] = useState(row.words);
  const [wrong, setWrong] = useState<Problem | null>(null);
  const save = useDoing(
    [slug],
    () =>
      ask(
        api.PUT("/api/squads/{slug}/sides/{check_id}", {
          params: { path: { slug, check_id: check } },
          body: {
            ranges: sent(ranges),
            strengths: sent(strengths),
            how: (how || null) as SideRow["how"],
            sets: how === "sets" && sets.trim() ? typedNumber(sets) : null,
            retest_on: retest || null,
            words,
            version: row.version,
          },
        }),
      ),
    () => {
      toast(`${row.name}: kept.`);
      if (row.comes !== null) onDone();
    },
  );
  const ranged = row.asks !== "range" || ranges.some((one) => one.name.trim() !== "");
  return (
    <form
      className="side-walk"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate(undefined, { onError: setWrong });
      }}
    >
      <h3>1. Range of motion by joint</h3>
      <PairLines
        of="Range"
        unit="degrees"
        pairs={ranges}
        wrong={(field) => wrong?.of(`ranges.${field}`)}
        onChange={setRanges}
      />
      {ranged && row.comes !== "range" && (
        <>
          <h3>2. Strength by joint</h3>
          <PairLines
            of="Strength"
            unit="any unit"
            pairs={strengths}
            wrong={(field) => wrong?.of(`strengths.${field}`)}
            onChange={setStrengths}
          />
        </>
      )}
      {row.comes !== null && (
        <>
          <h3>3. What is done about it</h3>
          <label>
            How
            <select
              value={how}
              aria-invalid={Boolean(wrong?.of("how"))}
              onChange={(event) => setHow(event.target.value)}
            >
              {HOW.map(([value, said]) => (
                <option key={value} value={value}>
                  {said}
                  {value !== "" && value === row.suits ? " (suits)" : ""}
                </option>
              ))}
            </select>
            {wrong?.of("how") && (
              <span role="alert" className="field-error">
                {wrong.of("how")}
              </span>
            )}
          </label>
          {how === "sets" && (
            <Labelled label="Added sets" error={wrong?.of("sets")}>
              <Input
                size="sm"
                inputMode="numeric"
                value={sets}
                onChange={(event) => setSets(event.target.value)}
              />
            </Labelled>
          )}
          <Labelled label="Tested again on" error={wrong?.of("retest_on")}>
            <Input size="sm" type="date" value={retest} onChange={(event) => setRetest(event.target.value)} />
          </Labelled>
        </>
      )}
      <Labelled label="Words" error={wrong?.of("words")}>
        <Input size="sm" maxLength={400} value={words} onChange={(event) => setWords(event.target.value)} />
      </Labelled>
      <div className="form-actions">
        <Button type="submit" size="sm" loading={save.isPending}>
          Keep it
        </Button>
        <button type="button" className="text-button" onClick={onDone}>
          Close
        </button>
      </div>
    </form>
  );
}

/** Joints that have a name or a figure; a line left empty is none. */
const sent = (pairs: TypedPair[]) =>
  pairs
    .filter((one) => `${one.name}${one.left}${one.right}`.trim() !== "")
    .map((one) => ({
      name: one.name,
      left: typedNumber(one.left) || 0,
      right: typedNumber(one.right) || 0,
    }));
