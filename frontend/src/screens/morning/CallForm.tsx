import { Button, Input, Textarea } from "@chakra-ui/react";
import { type Ref, useEffect } from "react";
import type { CallKind, Lane, Problem } from "../../api/client";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { adaptedLoad, type Draft } from "./call";
import { useMakeCalls } from "./useCalls";
import { callName } from "./words";

/** Errors that stand at a field of their own. */
const SHOWN = ["review_on", "minutes", "effort_cap", "content"];

interface CallFormProps {
  place: Place;
  /** Who is called, together. */
  people: Lane[];
  draft: Draft;
  /** Null where the form is to close. */
  onChange: (draft: Draft | null) => void;
  onMade: () => void;
  reasonBox: Ref<HTMLTextAreaElement>;
}

/** Why, until when, and for an adapted day how exactly. */
export function CallForm({ place, people, draft, onChange, onMade, reasonBox }: CallFormProps) {
  const make = useMakeCalls(place, people, onMade);
  const { kind } = draft;
  const { reset } = make;
  // What was refused of another kind of call says nothing of this one.
  // biome-ignore lint/correctness/useExhaustiveDependencies: the kind is what it is for
  useEffect(reset, [kind, reset]);

  const record = (sure = false, replaces?: string) => {
    if (!make.isPending) make.mutate({ draft, sure, replaces });
  };
  const problem = make.error;
  const theirs = problem?.status === 409 ? (problem.body.theirs as Theirs | undefined) : undefined;
  return (
    <form
      className="call-form"
      onSubmit={(event) => {
        event.preventDefault();
        record();
      }}
    >
      {kind === "adapt" && (
        <How
          draft={draft}
          lane={people.length === 1 ? (people[0] ?? null) : null}
          onChange={onChange}
          problem={problem}
        />
      )}
      <label htmlFor="call-reason">Reason</label>
      <div className="wide">
        <Textarea
          id="call-reason"
          ref={reasonBox}
          size="sm"
          rows={1}
          maxLength={400}
          value={draft.reason}
          placeholder={kind === "full" ? "may stay empty" : "why, in a few words"}
          aria-invalid={problem?.of("reason") ? true : undefined}
          onChange={(event) => onChange({ ...draft, reason: event.target.value })}
          onKeyDown={(event) => {
            if (event.key === "Enter" && !event.shiftKey) {
              event.preventDefault();
              record();
            }
            if (event.key === "Escape") onChange(null);
          }}
        />
        {problem && !SHOWN.some((field) => problem.of(field)) && (
          <p className="field-error" role="alert">
            {problem.message}{" "}
            {theirs && (
              <>
                Theirs: {callName(theirs.kind)}
                {theirs.reason && `, ${theirs.reason}`}.{" "}
                <button type="button" className="text-button" onClick={() => onChange(null)}>
                  Keep theirs
                </button>{" "}
                <button type="button" className="text-button" onClick={() => record(false, theirs.id)}>
                  Mine stands
                </button>
              </>
            )}
          </p>
        )}
        {problem?.body.above_room === true && (
          <p className="field-error" role="alert">
            {problem.message}{" "}
            <button type="button" className="text-button" onClick={() => record(true)}>
              Let it stand, above room
            </button>
          </p>
        )}
      </div>
      <label htmlFor="call-review">Review</label>
      <div>
        <Input
          id="call-review"
          type="date"
          size="sm"
          value={draft.review}
          aria-invalid={problem?.of("review_on") ? true : undefined}
          onChange={(event) => onChange({ ...draft, review: event.target.value })}
        />
        {problem?.of("review_on") && (
          <p className="field-error" role="alert">
            {problem.of("review_on")}
          </p>
        )}
      </div>
      <Button type="submit" size="sm" loading={make.isPending}>
        Record {callName(kind).toLowerCase()}
      </Button>
    </form>
  );
}

/** The call of someone else that stands already. */
interface Theirs {
  id: string;
  kind: CallKind;
  reason: string;
}

interface HowProps {
  draft: Draft;
  /** Null where several are called at once. */
  lane: Lane | null;
  onChange: (draft: Draft) => void;
  problem: Problem | null;
}

/** What exactly is adapted: minutes, effort, content. Prefilled from room and the clinician's word. */
function How({ draft, lane, onChange, problem }: HowProps) {
  const load = lane && adaptedLoad(draft, lane);
  const said = problem?.body.above_room ? null : problem;
  return (
    <>
      <label htmlFor="call-minutes">Adapt to</label>
      <div className="wide how">
        <span>
          <Input
            id="call-minutes"
            size="sm"
            inputMode="numeric"
            aria-label="Minutes"
            value={draft.minutes}
            onChange={(event) => onChange({ ...draft, minutes: event.target.value })}
          />
          {lane && lane.minutes > 0 ? ` of ${say.short(lane.minutes)} min` : " min"}
        </span>
        <span>
          effort ≤
          <Input
            size="sm"
            inputMode="decimal"
            aria-label="Effort at most"
            placeholder="any"
            value={draft.cap}
            onChange={(event) => onChange({ ...draft, cap: event.target.value })}
          />
        </span>
        {load !== null && <span className="quiet">= {say.load(load)}</span>}
        <Input
          size="sm"
          aria-label="Content to leave out or change"
          placeholder="content or region: no full throws"
          maxLength={200}
          value={draft.content}
          onChange={(event) => onChange({ ...draft, content: event.target.value })}
        />
        {SHOWN.slice(1).map(
          (name) =>
            said?.of(name) && (
              <p key={name} className="field-error" role="alert">
                {said.of(name)}
              </p>
            ),
        )}
      </div>
    </>
  );
}
