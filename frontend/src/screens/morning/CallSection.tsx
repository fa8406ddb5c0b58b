import { Button, Input, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { flushSync } from "react-dom";
import {
  api,
  ask,
  type CallBody,
  type CallItem,
  type CallKind,
  type Lane,
  type Morning,
  type Outcome,
  type Problem,
} from "../../api/client";
import { morningQuery } from "../../api/queries";
import { CallBar } from "../../charts/CallBar";
import { clockTime, plusDays } from "../../frame/days";
import { typedNumber } from "../../frame/fields";
import { useKeys } from "../../frame/keys";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { ulid } from "../../frame/ulid";
import { adaptText, CALLS, callName, reviewText } from "./words";

interface CallSectionProps {
  place: Place;
  lane: Lane;
  outcomes: Outcome[];
  marked: Lane[];
  onMark: (lane: Lane) => void;
  onCalled: () => void;
}

/** The call for the day. The choice is the chart: what each call comes to, against one line of room. */
export function CallSection({ place, lane, outcomes, marked, onMark, onCalled }: CallSectionProps) {
  const may = place.may("make_calls") && place.day >= place.squad.today;
  const [kind, setKind] = useState<CallKind | null>(null);
  const [reason, setReason] = useState("");
  const [review, setReview] = useState("");
  const [how, setHow] = useState(NO_CHANGE);
  const reasonBox = useRef<HTMLTextAreaElement>(null);
  // Those who are marked are called together; without a mark it is the one whose evidence is open.
  const people = marked.length > 0 ? marked : [lane];
  const several = people.length > 1 || people[0] !== lane;
  const { make, withdraw } = useCalls(place, lane, people);

  const choose = (wanted: CallKind) => {
    make.reset();
    // The reason takes the very next key: whoever types fast loses no letter.
    flushSync(() => {
      setKind(wanted);
      setReview((before) => before || plusDays(place.day, 1));
      setHow(wanted === "adapt" && !several ? fitting(lane) : NO_CHANGE);
    });
    reasonBox.current?.focus();
  };
  useKeys(Object.fromEntries(CALLS.map((call, i) => [String(i + 1), () => choose(call.kind)])), may);
  const record = (sure = false, replaces?: string) => {
    if (!kind || make.isPending) return;
    make.mutate(
      {
        kind,
        reason,
        review,
        how: kind === "adapt" ? how : { ...NO_CHANGE, content: how.content },
        sure,
        replaces,
      },
      {
        onSuccess: () => {
          setKind(null);
          setReason("");
          setReview("");
          onCalled();
        },
      },
    );
  };
  const theirs = make.error?.status === 409 ? (make.error.body.theirs as Theirs | undefined) : undefined;
  const aboveRoom = make.error?.body.above_room === true;

  const most = Math.max(1, lane.room.load ?? 0, ...outcomes.map((outcome) => outcome.load ?? 0)) * 1.05;
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
        {lane.room.load !== null && !several && (
          <span className="small" style={{ float: "right", fontWeight: 400 }}>
            line: room {say.room(lane.room.load)}
          </span>
        )}
      </h3>
      {several && <p className="small marked-names">{people.map((one) => one.name).join(", ")}</p>}
      {lane.call && !several && (
        <Standing
          call={lane.call}
          place={place}
          onTakeBack={may ? () => withdraw.mutate(lane.call?.id ?? "") : null}
        />
      )}
      <div className="call-bars" role="group" aria-label="What the call comes to">
        {CALLS.map((call, i) => {
          const outcome = outcomes.find((one) => one.kind === call.kind);
          return (
            <button
              key={call.kind}
              type="button"
              className="call-bar"
              aria-pressed={kind === call.kind}
              disabled={!may}
              onClick={() => choose(call.kind)}
            >
              <kbd>{i + 1}</kbd>
              <span>{call.name}</span>
              {!several && <CallBar load={outcome?.load ?? 0} room={lane.room.load} most={most} />}
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
        <Tomorrow outcome={outcomes.find((one) => one.kind === (kind ?? "full"))} asked={kind !== null} />
      )}
      {!may && (
        <p className="small" style={{ margin: "6px 0 0" }}>
          {place.may("make_calls")
            ? "This morning is past; calls are made for today and the days ahead."
            : "Your role may look at this, but not make calls."}
        </p>
      )}
      {kind && (
        <form
          className="call-form"
          onSubmit={(event) => {
            event.preventDefault();
            record();
          }}
        >
          {kind === "adapt" && (
            <How how={how} lane={several ? null : lane} onChange={setHow} problem={make.error} />
          )}
          <label htmlFor="call-reason">Reason</label>
          <div className="wide">
            <Textarea
              id="call-reason"
              ref={reasonBox}
              size="sm"
              rows={1}
              maxLength={400}
              value={reason}
              placeholder={kind === "full" ? "may stay empty" : "why, in a few words"}
              aria-invalid={make.error?.of("reason") ? true : undefined}
              onChange={(event) => setReason(event.target.value)}
              onKeyDown={(event) => {
                if (event.key === "Enter" && !event.shiftKey) {
                  event.preventDefault();
                  record();
                }
                if (event.key === "Escape") setKind(null);
              }}
            />
            {make.error && !SHOWN.some((field) => make.error?.of(field)) && (
              <p className="field-error" role="alert">
                {make.error.message}{" "}
                {theirs && (
                  <>
                    Theirs: {callName(theirs.kind)}
                    {theirs.reason && `, ${theirs.reason}`}.{" "}
                    <button type="button" className="text-button" onClick={() => setKind(null)}>
                      Keep theirs
                    </button>{" "}
                    <button type="button" className="text-button" onClick={() => record(false, theirs.id)}>
                      Mine stands
                    </button>
                  </>
                )}
              </p>
            )}
            {aboveRoom && (
              <p className="field-error" role="alert">
                {make.error?.message}{" "}
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
              value={review}
              aria-invalid={make.error?.of("review_on") ? true : undefined}
              onChange={(event) => setReview(event.target.value)}
            />
            {make.error?.of("review_on") && (
              <p className="field-error" role="alert">
                {make.error.of("review_on")}
              </p>
            )}
          </div>
          <Button type="submit" size="sm" loading={make.isPending}>
            Record {callName(kind).toLowerCase()}
          </Button>
        </form>
      )}
    </section>
  );
}

/** How tomorrow looks after the call; before one is chosen, after the plan as it is. */
function Tomorrow({ outcome, asked }: { outcome: Outcome | undefined; asked: boolean }) {
  if (!outcome) return null;
  return (
    <p className={`tomorrow${outcome.tomorrow_over > 0 ? " over" : ""}`}>
      After {asked ? callName(outcome.kind).toLowerCase() : "the plan as it is"}: {outcome.tomorrow}
    </p>
  );
}

function Standing({
  call,
  place,
  onTakeBack,
}: {
  call: CallItem;
  place: Place;
  onTakeBack: (() => void) | null;
}) {
  const details = [adaptText(call), call.reason, reviewText(call)].filter(Boolean).join(" · ");
  return (
    <div className="standing-call">
      <b>{callName(call.kind)}</b>{" "}
      <span className="quiet">
        {call.made_by}, {clockTime(call.made_at, place.squad.time_zone)}
      </span>
      {onTakeBack && (
        <button type="button" className="text-button" style={{ float: "right" }} onClick={onTakeBack}>
          Take back
        </button>
      )}
      {details && <div>{details}</div>}
      {call.reply && <div>Clinician: {call.reply}</div>}
    </div>
  );
}

/** Errors that stand at a field of their own. */
const SHOWN = ["review_on", "minutes", "effort_cap", "content"];

interface Theirs {
  id: string;
  kind: CallKind;
  reason: string;
}

/** How a day is adapted, as typed. */
interface HowText {
  minutes: string;
  cap: string;
  content: string;
}

const NO_CHANGE: HowText = { minutes: "", cap: "", content: "" };

/**
 * Minutes that fit the room at the effort that is planned, rounded down to 5; with what a clinician leaves out, and what
 * the room on other kinds of work leaves of them.
 */
function fitting(lane: Lane): HowText {
  const gate = lane.gate.replace(/^does not train.*/, "").replace(/ until .*$/, "");
  const less = lane.others
    .filter((other) => other.room.load !== null && other.room.plan > other.room.load + 0.5)
    .map((other) =>
      (other.room.load ?? 0) < 1
        ? `no ${other.name.toLowerCase()}`
        : `${other.name.toLowerCase()} at most ${say.room(other.room.load ?? 0)}`,
    );
  const content = [gate, ...less].filter(Boolean).join(", ");
  if (lane.room.load === null || lane.minutes <= 0 || lane.room.written <= 0)
    return { ...NO_CHANGE, content };
  const rate = lane.room.written / lane.minutes;
  const minutes = Math.min(lane.minutes, Math.floor(lane.room.load / rate / 5) * 5);
  return { minutes: String(minutes), cap: "", content };
}

interface HowProps {
  how: HowText;
  /** Null where several are called at once. */
  lane: Lane | null;
  onChange: (how: HowText) => void;
  problem: Problem | null;
}

/** What exactly is adapted: minutes, effort, content. Prefilled from room and the clinician's word. */
function How({ how, lane, onChange, problem }: HowProps) {
  const minutes = typedNumber(how.minutes);
  const cap = typedNumber(how.cap);
  const rate = lane && lane.minutes > 0 ? lane.room.written / lane.minutes : (lane?.effort ?? 0);
  const load = minutes * Math.min(rate, Number.isNaN(cap) ? 10 : cap);
  const field = (name: string) => problem?.of(name) && !problem.body.above_room;
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
            value={how.minutes}
            onChange={(event) => onChange({ ...how, minutes: event.target.value })}
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
            value={how.cap}
            onChange={(event) => onChange({ ...how, cap: event.target.value })}
          />
        </span>
        {lane && !Number.isNaN(load) && <span className="quiet">= {say.load(load)}</span>}
        <Input
          size="sm"
          aria-label="Content to leave out or change"
          placeholder="content or region: no full throws, no landings"
          maxLength={200}
          value={how.content}
          onChange={(event) => onChange({ ...how, content: event.target.value })}
        />
        {SHOWN.slice(1).map(
          (name) =>
            field(name) && (
              <p key={name} className="field-error" role="alert">
                {problem?.of(name)}
              </p>
            ),
        )}
      </div>
    </>
  );
}

interface Made {
  kind: CallKind;
  reason: string;
  review: string;
  how: HowText;
  sure: boolean;
  /** The call of someone else that is to give way. */
  replaces?: string;
}

const numberOrNull = (text: string) => {
  const value = typedNumber(text);
  return Number.isNaN(value) ? null : value;
};

/** Making a call and taking it back. The lane shows a call at once, and shows the old one again if it was refused. */
function useCalls(place: Place, lane: Lane, people: Lane[]) {
  const queries = useQueryClient();
  const toast = useToast();
  const { queryKey } = morningQuery(place.squad.slug, place.day, place.get("channel"));
  const show = (call: CallItem | null) =>
    queries.setQueryData<Morning>(
      queryKey,
      (before) =>
        before && {
          ...before,
          lanes: before.lanes.map((one) => (one.athlete_id === lane.athlete_id ? { ...one, call } : one)),
        },
    );
  const renew = () => queries.invalidateQueries({ queryKey: [place.squad.slug, "morning"] });
  const withdraw = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/calls/{call_id}", {
          params: { path: { slug: place.squad.slug, call_id: id } },
        }),
      ),
    onSuccess: () => toast(`The call for ${lane.name} is taken back.`),
    onError: (problem) => toast(problem.message),
    onSettled: renew,
  });
  const make = useMutation<CallItem[], Problem, Made, { before: CallItem | null }>({
    mutationFn: async (made) => {
      const params = { path: { slug: place.squad.slug } };
      const bodies = people.map((one) => bodyOf(made, one, place.day));
      const [only] = bodies;
      if (only && bodies.length === 1)
        return [await ask(api.POST("/api/squads/{slug}/calls", { params, body: only }))];
      const { calls } = await ask(
        api.POST("/api/squads/{slug}/calls/several", { params, body: { calls: bodies } }),
      );
      return calls;
    },
    onMutate: ({ kind, reason, review, how }) => {
      const before = lane.call;
      if (people.length === 1 && people[0] === lane)
        show({
          id: "",
          kind,
          reason,
          review_on: review || null,
          minutes: numberOrNull(how.minutes),
          effort_cap: numberOrNull(how.cap),
          content: how.content || null,
          above_room: false,
          reply: null,
          made_by: "saving …",
          made_at: new Date().toISOString(),
        });
      return { before };
    },
    onSuccess: (calls) => {
      const [call] = calls;
      if (!call) return;
      if (calls.length === 1 && people[0] === lane) show(call);
      const whom = people.length === 1 ? people[0]?.name : `${people.length} athletes`;
      toast(`${callName(call.kind)} recorded for ${whom}.`, () => {
        for (const one of calls) withdraw.mutate(one.id);
      });
      renew();
    },
    onError: (_problem, _made, context) => show(context?.before ?? null),
  });
  return { make, withdraw };
}

function bodyOf(made: Made, lane: Lane, day: string): CallBody {
  return {
    id: ulid(),
    athlete_id: lane.athlete_id,
    day,
    kind: made.kind,
    reason: made.reason,
    review_on: made.review || null,
    minutes: numberOrNull(made.how.minutes),
    effort_cap: numberOrNull(made.how.cap),
    content: made.how.content || null,
    replaces: made.replaces ?? lane.call?.id ?? null,
    sure: made.sure,
  };
}
