import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type PlannedSession, type Problem, type SessionPlan } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Form, TextField, useSending } from "../../kit/form";

interface Props {
  place: Place;
  session: PlannedSession;
  onDone: () => void;
}

/** A session that does not take place: kept, with why; nothing of it is planned or asked. */
export function CallOff({ place, session, onDone }: Props) {
  const [asking, setAsking] = useState(false);
  if (asking) return <Why place={place} session={session} onDone={onDone} />;
  return (
    <button type="button" className="text-button" onClick={() => setAsking(true)}>
      Call it off
    </button>
  );
}

function Why({ place, session, onDone }: Props) {
  const { slug } = place.squad;
  const toast = useToast();
  const on = usePutOn(place);
  const params = { path: { slug, session_id: session.id } };
  const of = useSending<{ why: string }, SessionPlan>({
    start: { why: "" },
    check: ({ why }) => ({ why: !why.trim() && "Say why." }),
    send: ({ why }) =>
      ask(
        api.POST("/api/squads/{slug}/sessions/{session_id}/call-off", {
          params,
          body: { why, version: session.version },
        }),
      ),
    saved: (kept) => {
      toast(`${session.opponent ?? session.title} is called off.`, () => on.mutate(kept));
      onDone();
    },
    renews: [slug],
  });
  return (
    <Form of={of} head="Call it off" action="Call off">
      <TextField of={of} autoFocus name="why" label="Why" maxLength={200} placeholder="hall closed" />
    </Form>
  );
}

function usePutOn(place: Place) {
  const queries = useQueryClient();
  const toast = useToast();
  const { slug } = place.squad;
  return useMutation<SessionPlan, Problem, { id: string; version: number }>({
    mutationFn: ({ id, version }) =>
      ask(
        api.POST("/api/squads/{slug}/sessions/{session_id}/put-on", {
          params: { path: { slug, session_id: id } },
          body: { version },
        }),
      ),
    onSettled: () => askAgain(queries, [slug]),
    onError: (problem) => toast(problem.message),
  });
}

/** Why a session does not take place, and the way back. */
export function CalledOff({ place, session }: Omit<Props, "onDone">) {
  const on = usePutOn(place);
  return (
    <>
      <h2 className="panel-head">{session.opponent ?? session.title}</h2>
      <p>Called off: {session.called_off}</p>
      <button type="button" className="text-button" onClick={() => on.mutate(session)}>
        It takes place after all
      </button>
    </>
  );
}
