import { useQuery } from "@tanstack/react-query";
import { useDeferredValue, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { CallItem, CallKind, Lane, Outcome } from "../../api/client";
import { evidenceQuery } from "../../api/queries/morning";
import { CallBar } from "../../charts/CallBar";
import { clockTime } from "../../frame/days";
import { useKeys } from "../../frame/keys";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { CallForm } from "./CallForm";
import { type Draft, drafted } from "./call";
import { useWithdrawCall } from "./useCalls";
import { adaptText, CALLS, callName, isKnown, reviewText } from "./words";

interface CallSectionProps {
  place: Place;
  lane: Lane;
  /** Whether one has stopped moving: only then is it worth asking what each call comes to. */
  settled: boolean;
  /** Those marked to be called together. */
  marked: Lane[];
  onMark: (lane: Lane) => void;
  onCalled: () => void;
}

/** The call for the day. The choice is the chart: what each call comes to, against one line of room. */
export function CallSection({ place, lane, settled, marked, onMark, onCalled }: CallSectionProps) {
  const evidence = useQuery({
    ...evidenceQuery(place.squad.slug, place.day, lane.athlete_id, place.get("channel"), isKnown(place)),
    enabled: settled,
  });
  const outcomes = useDeferredValue(evidence.data?.outcomes ?? NONE);
  const may = place.may("make_calls") && place.day >= place.squad.today;
  // What was typed stays with the athlete while one looks at another.
  const [drafts, setDrafts] = useState<Record<string, Draft | null>>({});
  const reasonBox = useRef<HTMLTextAreaElement>(null);
  // Those who are marked are called together; without a mark it is the one whose evidence is open.
  const people = marked.length > 0 ? marked : [lane];
  const several = people.length > 1 || people[0] !== lane;
  // Of those marked it stays with them, whoever's evidence is looked at meanwhile.
  const whose = `${place.day} ${several ? "marked" : lane.athlete_id}`;
  const draft = drafts[whose] ?? null;
  const setDraft = (after: Draft | null) => setDrafts((before) => ({ ...before, [whose]: after }));

  const choose = (kind: CallKind) => {
    // The reason takes the very next key: whoever types fast loses no letter.
    flushSync(() => setDraft(drafted(kind, place.day, draft ?? undefined, several ? null : lane)));
    reasonBox.current?.focus();
  };
  useKeys(Object.fromEntries(CALLS.map((call, i) => [String(i + 1), () => choose(call.kind)])), may);

  const most = Math.max(1, lane.leaves ?? 0, ...outcomes.map((outcome) => outcome.load ?? 0)) * 1.05;
  return (
    <section aria-label="Call">
      <h3>
        {several
          ? `Call for ${people.length} marked`
          : place.day === place.squad.today
            ? "Today’s call"
            : "Call for this day"}
        {several && (
          <button type="button" className="text-button" style={{ marginLeft: 10 }} onClick={onCalled}>
            Clear the marks
          </button>
        )}
        {!several && place.may("make_calls") && (
          <button
            type="button"
            className="text-button mark-button"
            title="Mark to call several together (x)"
            onClick={() => onMark(lane)}
          >
            Mark
          </button>
        )}
        {lane.leaves !== null && !several && !draft && (
          <span className="small" style={{ float: "right", fontWeight: 400 }}>
            line: room {say.room(lane.leaves)}
          </span>
        )}
      </h3>
      {several && <p className="small marked-names">{people.map((one) => one.name).join(", ")}</p>}
      {lane.call && !several && (
        <Standing key={lane.call.id} call={lane.call} place={place} name={lane.name} may={may} />
      )}
      <div className={`call-bars${draft ? " chosen" : ""}`} role="group" aria-label="What the call comes to">
        {CALLS.map((call, i) => {
          const outcome = outcomes.find((one) => one.kind === call.kind);
          return (
            <button
              key={call.kind}
              type="button"
              className="call-bar"
              aria-pressed={draft?.kind === call.kind}
              disabled={!may}
              onClick={() => choose(call.kind)}
            >
              <kbd>{i + 1}</kbd>
              <span>{call.name}</span>
              {!several && <CallBar load={outcome?.load ?? 0} room={lane.leaves} most={most} />}
              {!several && (
                <span className={`outcome${outcome && outcome.over > 0.5 ? " over" : ""}`}>
                  {outcome?.words}
                </span>
              )}
            </button>
          );
        })}
      </div>
      {!several && (
        <Tomorrow
          outcome={outcomes.find((one) => one.kind === (draft?.kind ?? (lane.room.closed ? "rest" : "full")))}
          asked={draft !== null || lane.room.closed}
        />
      )}
      {!may && (
        <p className="small" style={{ margin: "6px 0 0" }}>
          {place.may("make_calls")
            ? "This morning is past; calls are made for today and the days ahead."
            : "Your role may look at this, but not make calls."}
        </p>
      )}
      {draft && (
        <CallForm
          key={whose}
          place={place}
          people={people}
          draft={draft}
          onChange={setDraft}
          onMade={() => {
            setDraft(null);
            if (several) onCalled();
          }}
          reasonBox={reasonBox}
        />
      )}
    </section>
  );
}

const NONE: Outcome[] = [];

/** How tomorrow looks after the call; before one is chosen, after the plan as it is. */
function Tomorrow({ outcome, asked }: { outcome: Outcome | undefined; asked: boolean }) {
  if (!outcome) return null;
  return (
    <p className={`tomorrow${outcome.tomorrow_over > 0 ? " over" : ""}`}>
      After {asked ? callName(outcome.kind).toLowerCase() : "the plan as it is"}: {outcome.tomorrow}
    </p>
  );
}

interface StandingProps {
  call: CallItem;
  place: Place;
  name: string;
  /** Whether it may be taken back. */
  may: boolean;
}

function Standing({ call, place, name, may }: StandingProps) {
  const withdraw = useWithdrawCall(place, name);
  const details = [adaptText(call), call.reason, reviewText(call)].filter(Boolean).join(" · ");
  return (
    <div className="standing-call">
      <b>{callName(call.kind)}</b>{" "}
      <span className="quiet">
        {call.made_by}, {clockTime(call.made_at, place.squad.time_zone)}
      </span>
      {may && (
        <button
          type="button"
          className="text-button"
          style={{ float: "right" }}
          onClick={() => withdraw.mutate(call.id)}
        >
          Take back
        </button>
      )}
      {details && <div>{details}</div>}
      {call.reply && <div>Clinician: {call.reply}</div>}
    </div>
  );
}
