import { Button, Input, Textarea } from "@chakra-ui/react";
import { type FormEvent, useState } from "react";
import type { Allowed, Problem } from "../../api/client";
import { plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";
import { Labelled, Select } from "../../kit/fields";
import { AllowedFields, allowedOf, NOTHING_ALLOWED } from "./AllowedFields";

export interface Answer {
  answer: string;
  again_on: string | null;
  allowed: Allowed | null;
}

interface AnswerFormProps {
  place: Place;
  name: string;
  start: string;
  saving: boolean;
  problem: Problem | null;
  onSave: (answer: Answer) => void;
  onLeave: () => void;
}

/** What a clinician says of a complaint: a note, whether they train today, and when it is looked at again. */
export function AnswerForm({ place, name, start, saving, problem, onSave, onLeave }: AnswerFormProps) {
  const [words, setWords] = useState(start);
  const [again, setAgain] = useState("");
  const [says, setSays] = useState<"nothing" | "today" | "more">("nothing");
  const [draft, setDraft] = useState(NOTHING_ALLOWED);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    const { today } = place.squad;
    const allowed =
      says === "nothing"
        ? null
        : says === "today"
          ? allowedOf({ ...NOTHING_ALLOWED, until: again ? plusDays(again, -1) : today })
          : allowedOf(draft);
    onSave({ answer: words, again_on: again || null, allowed });
  };
  return (
    <form className="form-rows answer-form" onSubmit={submit}>
      <Textarea
        aria-label={`Note on ${name}`}
        placeholder="Note, for clinicians"
        rows={2}
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      <div className="form-pair">
        <Labelled label="Training">
          <Select label="Training" value={says} onChange={(value) => setSays(value as typeof says)}>
            <option value="nothing">trains as it stands</option>
            <option value="today">not today</option>
            <option value="more">say how much …</option>
          </Select>
        </Labelled>
        <Labelled label="Seen again on" error={problem?.of("again_on")}>
          <Input
            size="sm"
            type="date"
            min={plusDays(place.squad.today, 1)}
            value={again}
            onChange={(event) => setAgain(event.target.value)}
          />
        </Labelled>
      </div>
      {says === "more" && <AllowedFields draft={draft} onChange={setDraft} problem={problem} at="allowed." />}
      {problem && problem.errors.length === 0 && (
        <p role="alert" className="over">
          {problem.message}
        </p>
      )}
      <div>
        <Button type="submit" size="xs" loading={saving}>
          Save
        </Button>{" "}
        <button type="button" className="text-button" onClick={onLeave}>
          Leave it
        </button>
      </div>
    </form>
  );
}
