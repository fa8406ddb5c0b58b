import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Field, Problem } from "../../api/client";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { CallNow } from "./CallNow";
import { Counting } from "./Counting";
import { FieldHead } from "./FieldHead";
import { Groups } from "./Groups";
import { OnField } from "./OnField";
import { PartClock } from "./PartClock";
import { QuickWords } from "./QuickWords";
import { useField, useSeconds } from "./useField";
import "./field.css";

/** The session at the pitch: parts with their clock, who may do what, counts and breaks, and words. */
export default function FieldScreen({ place }: { place: Place }) {
  const { query, events, stands, note, takeBack } = useField(place);
  const now = useSeconds();
  if (query.isError && !query.data) {
    const none = query.error instanceof Problem && query.error.status === 404;
    return (
      <Message
        title={none ? "No session today" : "The session could not be loaded"}
        action={none ? "Make one in the calendar" : "Try again"}
        onAction={() => (none ? place.go("/session/calendar", { session: "new" }) : query.refetch())}
      >
        {query.error.message}
      </Message>
    );
  }
  const field = query.data;
  if (!field) return <p className="field-waiting">The session is on its way …</p>;
  const at = { field, stands, note, now };
  return (
    <div className="field">
      <FieldHead place={place} field={field} now={now} stands={stands} />
      <PartClock {...at} />
      <CallNow place={place} field={field} />
      <Counting place={place} {...at} />
      {field.session.kind === "match" && <OnField {...at} />}
      <Groups {...at} />
      <QuickWords field={field} events={events} note={note} takeBack={takeBack} />
      {stands.runs.length > 0 && stands.runs.at(-1)?.end !== null && <Keep place={place} field={field} />}
    </div>
  );
}

/** Once nothing runs any more the session can be kept as it was. */
function Keep({ place, field }: { place: Place; field: Field }) {
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  const keep = useMutation<{ kept: string[]; left: string[] }, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/sessions/{session_id}/field/finish", {
          params: { path: { slug, session_id: field.session.id } },
        }),
      ),
    onSuccess: ({ kept, left }) => {
      askAgain(queries, [slug]);
      toast(`Kept: ${kept.join(", ")}.${left.length > 0 ? ` Left as they were: ${left.join(", ")}.` : ""}`);
      place.go("/session", { session: field.session.id });
    },
    onError: (problem) => toast(problem.message),
  });
  return (
    <section className="field-keep">
      <p>
        {field.session.title}, {mediumDay(field.day)}: nothing runs any more.
      </p>
      <button type="button" className="field-wide" disabled={keep.isPending} onClick={() => keep.mutate()}>
        Keep the session as it was
      </button>
    </section>
  );
}
