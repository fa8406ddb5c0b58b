import { Problem } from "../../api/client";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { CallNow } from "./CallNow";
import { Counting } from "./Counting";
import { FieldHead } from "./FieldHead";
import { Groups } from "./Groups";
import { Keep } from "./Keep";
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
      <PartClock place={place} {...at} />
      <CallNow place={place} field={field} />
      <Counting place={place} field={field} events={events} note={note} now={now} />
      {field.session.kind === "match" && <OnField {...at} />}
      <Groups {...at} />
      <QuickWords field={field} events={events} note={note} takeBack={takeBack} />
      {stands.runs.length > 0 && stands.runs.at(-1)?.end !== null && <Keep place={place} field={field} />}
    </div>
  );
}
