import { Button, Input, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { flushSync } from "react-dom";
import {
  api,
  ask,
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
import { useKeys } from "../../frame/keys";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { ulid } from "../../frame/ulid";
import { CALLS, callName, reviewText } from "./words";

interface CallSectionProps {
  place: Place;
  lane: Lane;
  outcomes: Outcome[];
}

/** The call for the day. The choice is the chart: what each call comes to, against one line of room. */
export function CallSection({ place, lane, outcomes }: CallSectionProps) {
  const may = place.may("make_calls") && place.day >= place.squad.today;
  const [kind, setKind] = useState<CallKind | null>(null);
  const [reason, setReason] = useState("");
  const [review, setReview] = useState("");
  const reasonBox = useRef<HTMLTextAreaElement>(null);
  const { make, withdraw } = useCalls(place, lane);

  const choose = (wanted: CallKind) => {
    make.reset();
    // The reason takes the very next key: whoever types fast loses no letter.
    flushSync(() => {
      setKind(wanted);
      setReview((before) => before || plusDays(place.day, 1));
    });
    reasonBox.current?.focus();
  };
  useKeys(Object.fromEntries(CALLS.map((call, i) => [String(i + 1), () => choose(call.kind)])), may);
  const record = () => {
    if (!kind || make.isPending) return;
    make.mutate(
      { kind, reason, review },
      {
        onSuccess: () => {
          setKind(null);
          setReason("");
          setReview("");
        },
      },
    );
  };

  const most = Math.max(1, lane.room.load ?? 0, ...outcomes.map((outcome) => outcome.load ?? 0)) * 1.05;
  return (
    <section aria-label="Call">
      <h3>
        {place.day === place.squad.today ? "Today’s call" : "Call for this day"}
        {lane.room.load !== null && (
          <span className="small" style={{ float: "right", fontWeight: 400 }}>
            line: room {say.room(lane.room.load)}
          </span>
        )}
      </h3>
      {lane.call && (
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
              <CallBar load={outcome?.load ?? 0} room={lane.room.load} most={most} />
              <span className={`outcome${outcome && outcome.over > 0.5 ? " over" : ""}`}>
                {outcome?.words}
              </span>
            </button>
          );
        })}
      </div>
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
          <label htmlFor="call-reason">Reason</label>
          <div className="wide">
            <Textarea
              id="call-reason"
              ref={reasonBox}
              size="sm"
              rows={2}
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
            {make.error && !make.error.of("review_on") && (
              <p className="field-error" role="alert">
                {make.error.message}
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

function Standing({
  call,
  place,
  onTakeBack,
}: {
  call: CallItem;
  place: Place;
  onTakeBack: (() => void) | null;
}) {
  const details = [call.reason, reviewText(call)].filter(Boolean).join(" · ");
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
    </div>
  );
}

interface Made {
  kind: CallKind;
  reason: string;
  review: string;
}

/** Making a call and taking it back. The lane shows a call at once, and shows the old one again if it was refused. */
function useCalls(place: Place, lane: Lane) {
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
  const make = useMutation<CallItem, Problem, Made, { before: CallItem | null }>({
    mutationFn: ({ kind, reason, review }) =>
      ask(
        api.POST("/api/squads/{slug}/calls", {
          params: { path: { slug: place.squad.slug } },
          body: {
            id: ulid(),
            athlete_id: lane.athlete_id,
            day: place.day,
            kind,
            reason,
            review_on: review || null,
          },
        }),
      ),
    onMutate: ({ kind, reason, review }) => {
      const before = lane.call;
      const made_at = new Date().toISOString();
      show({ id: "", kind, reason, review_on: review || null, made_by: "saving …", made_at });
      return { before };
    },
    onSuccess: (call) => {
      show(call);
      toast(`${callName(call.kind)} recorded for ${lane.name}.`, () => withdraw.mutate(call.id));
      renew();
    },
    onError: (_problem, _made, context) => show(context?.before ?? null),
  });
  return { make, withdraw };
}
