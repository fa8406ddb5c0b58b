import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { askAgain } from "../../api/askAgain";
import {
  api,
  ask,
  type Planned,
  type PlannedSession,
  type Problem,
  type SessionPlan,
} from "../../api/client";
import { dayAndMonth } from "../../frame/days";
import type { Place } from "../../frame/place";
import { SESSION_KINDS } from "../../frame/sessionKinds";
import { useToast } from "../../frame/toast";
import { ChoiceField, Form, type Sending, TextField, useSending } from "../../kit/form";
import { asMuch, bodyOf, madeText, placesOf, type Said, startOf, type Typed, wrongIn } from "./typedSession";
import { useUndo } from "./undoSessions";

interface Props {
  place: Place;
  planned: Planned;
  /** The one that is changed; a new one without it. */
  session: PlannedSession | undefined;
  onLeave: () => void;
}

/** A session that is made or changed: when, what, how long and how hard. */
export function SessionForm(props: Props) {
  const { place, session, onLeave } = props;
  const { slug } = place.squad;
  const toast = useToast();
  const undo = useUndo(slug);
  const of = useSending<Typed, SessionPlan[]>({
    start: startOf(place, props.planned, session),
    check: wrongIn,
    seen: session?.version,
    send: async (typed, seen) => {
      const body = bodyOf(typed);
      if (session) {
        const params = { path: { slug, session_id: session.id } };
        const changed = { ...body, version: seen as number };
        return [
          await ask(api.PUT("/api/squads/{slug}/sessions/{session_id}/plan", { params, body: changed })),
        ];
      }
      const made = { ...body, until: typed.until || null };
      return (await ask(api.POST("/api/squads/{slug}/sessions", { params: { path: { slug } }, body: made })))
        .sessions;
    },
    saved: (kept) => {
      if (session) toast("The session is changed.", () => undo.change(kept));
      else toast(madeText(kept), () => undo.made(kept));
      onLeave();
    },
    renews: [slug],
  });
  return (
    <Form
      of={of}
      head={session ? "Change this session" : "A new session"}
      action={session ? "Save" : "Make it"}
      onLeave={onLeave}
      foot={session && <Foot place={place} session={session} onDone={onLeave} />}
    >
      <Fields of={of} planned={props.planned} changes={Boolean(session)} />
    </Form>
  );
}

function Fields({ of, planned, changes }: { of: Sending<Typed>; planned: Planned; changes: boolean }) {
  const { typed } = of;
  const [said, setSaid] = useState<Said | null>(null);
  const same = said && asMuch(planned, said, typed);
  return (
    <>
      <ChoiceField
        of={of}
        name="kind"
        label="Kind"
        options={planned.kinds.map((kind) => [kind, SESSION_KINDS[kind]])}
      />
      <TextField
        of={of}
        autoFocus
        name="title"
        label="Title"
        maxLength={120}
        placeholder={typed.kind === "match" ? "Match" : ""}
      />
      {typed.kind === "match" && (
        <div className="form-pair">
          <TextField of={of} name="opponent" label="Against" maxLength={100} />
          <ChoiceField
            of={of}
            name="venue"
            label="Where"
            options={[
              ["home", "home"],
              ["away", "away"],
            ]}
          />
        </div>
      )}
      <div className="form-pair">
        <TextField of={of} name="day" label="Day" type="date" />
        <TextField of={of} name="at" label="Start" type="time" />
      </div>
      <div className="form-pair">
        <TextField of={of} name="minutes" label="Minutes planned" inputMode="decimal" />
        <TextField of={of} name="effort" label="Effort planned, 0 to 10" inputMode="decimal" />
      </div>
      {placesOf(planned, typed).length > 0 && (
        <ChoiceField
          of={of}
          name="place"
          label="Place"
          none="as usual"
          options={placesOf(planned, typed).map((name) => [name, name])}
          onChosen={() => setSaid({ place: typed.place, minutes: typed.minutes })}
        />
      )}
      {said && same && (
        <p role="status" className="quiet">
          {said.minutes} min {said.place || "as usual"} come to as much as {same} min{" "}
          {typed.place || "as usual"}.{" "}
          <button
            type="button"
            className="text-button"
            onClick={() => of.form.setValue("minutes", String(same))}
          >
            Plan {same} min
          </button>
        </p>
      )}
      {!changes && <TextField of={of} name="until" label="Every week until (empty: once)" type="date" />}
    </>
  );
}

function Foot(props: { place: Place; session: PlannedSession; onDone: () => void }) {
  const { place, session } = props;
  return (
    <>
      <p>
        <Link className="text-button" to={place.to("/session", { session: session.id, show: "segments" })}>
          Plan its parts
        </Link>
      </p>
      <Delete {...props} />
    </>
  );
}

function Delete({ place, session, onDone }: { place: Place; session: PlannedSession; onDone: () => void }) {
  const params = { path: { slug: place.squad.slug, session_id: session.id } };
  const queries = useQueryClient();
  const toast = useToast();
  const restore = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.POST("/api/squads/{slug}/sessions/{session_id}/restore", { params })),
    onSuccess: () => askAgain(queries, [place.squad.slug]),
    onError: (problem) => toast(problem.message),
  });
  const remove = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.DELETE("/api/squads/{slug}/sessions/{session_id}", {
          params: { ...params, query: { version: session.version } },
        }),
      ),
    onSuccess: () => {
      onDone();
      askAgain(queries, [place.squad.slug]);
      toast(`${session.opponent ?? session.title} on ${dayAndMonth(session.day)} is deleted.`, () =>
        restore.mutate(),
      );
    },
  });
  return (
    <>
      <button type="button" className="text-button" onClick={() => remove.mutate()}>
        Delete this session
      </button>
      {remove.isError && (
        <p role="alert" className="field-error">
          {remove.error.message}
        </p>
      )}
    </>
  );
}
