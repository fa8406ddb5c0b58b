import { useState } from "react";
import { ulid } from "ulid";
import type { Field } from "../../api/client";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { enqueue } from "../../offline/outbox";

type Row = Field["rows"][number];

const CHOICES = [
  { kind: "full", name: "Full", said: "as planned" },
  { kind: "minimum", name: "Minimum", said: "the main thing only" },
  { kind: "rest", name: "Leave it", said: "out now" },
] as const;

/** After warm-up, one athlete at a time: with the reason, and what each answer leaves. */
export function CallNow({ place, field }: { place: Place; field: Field }) {
  const toast = useToast();
  const [said, setSaid] = useState<number[]>([]);
  const open = field.rows.filter((row) => row.to_call && !row.called && !said.includes(row.athlete_id));
  const row = open[0];
  if (!row) return null;
  const may = place.may("make_calls");
  const call = (kind: (typeof CHOICES)[number]["kind"], name: string) => {
    setSaid([...said, row.athlete_id]);
    const body = {
      id: ulid(),
      athlete_id: row.athlete_id,
      day: field.day,
      kind,
      reason: `After warm-up: ${row.to_call}`.slice(0, 400),
      review_on: null,
      minutes: null,
      effort_cap: null,
      content: null,
      replaces: null,
      sure: false,
    };
    void enqueue({
      what: "call",
      slug: place.squad.slug,
      body,
      key: `call ${body.id}`,
      label: `${row.name}: ${name}, ${mediumDay(field.day)}`,
    });
    toast(`${row.name}: ${name.toLowerCase()}.`);
  };
  return (
    <section className="field-call" aria-label="After warm-up">
      <h2>
        <b>After warm-up: {row.name}</b>{" "}
        <span>
          {row.position}
          {row.number === null ? "" : `, ${row.number}`}
        </span>
        <span className="field-end">{open.length} to call</span>
      </h2>
      <p>
        {roomOf(row)} {row.to_call[0]?.toUpperCase()}
        {row.to_call.slice(1)}. {row.owed}
      </p>
      {may ? (
        <div className="field-answers">
          {CHOICES.map((one) => (
            <button key={one.kind} type="button" onClick={() => call(one.kind, one.name)}>
              <b>{one.name}</b>
              <span>{minutesOf(one.kind, row) ?? one.said}</span>
            </button>
          ))}
        </div>
      ) : (
        <p className="quiet">Performance staff say.</p>
      )}
    </section>
  );
}

const roomOf = (row: Row) =>
  row.room_minutes === null ? "No figure for room." : `Room for ${Math.floor(row.room_minutes)} min.`;

function minutesOf(kind: string, row: Row): string | null {
  if (kind === "full") return `${Math.round(row.plan_minutes)} min planned`;
  return kind === "minimum" ? `${Math.round(row.minimum_minutes)} min, the main thing only` : null;
}
