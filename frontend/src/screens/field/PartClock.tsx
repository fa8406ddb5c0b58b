import { Link } from "react-router";
import type { Field } from "../../api/client";
import type { Place } from "../../frame/place";
import type { Stands } from "./fold";
import { clock, type Note } from "./useField";

interface Props {
  place: Place;
  field: Field;
  stands: Stands;
  note: Note;
  now: number;
}

/** The clock of the part that runs, and what comes next. */
export function PartClock({ place, field, stands, note, now }: Props) {
  const last = stands.runs.at(-1);
  const running = last?.end === null ? last : undefined;
  const part = field.parts.find((one) => one.place === running?.part);
  const done = new Set(stands.runs.map((run) => run.part));
  const next = field.parts.find((one) => !done.has(one.place));
  if (field.parts.length === 0)
    return (
      <p className="field-clock quiet">
        This session has no parts.{" "}
        <Link
          className="text-button"
          to={place.to("/session", { session: field.session.id, show: "segments" })}
        >
          Plan them
        </Link>
        , or count and note below.
      </p>
    );
  const passed = running ? now - running.begin : 0;
  const left = (part?.minutes ?? 0) * 60 - passed;
  return (
    <section className="field-clock" aria-label="Clock">
      <div role="timer" className={left < 0 ? "over" : undefined}>
        <b>{running ? clock(Math.abs(left)) : "–"}</b>{" "}
        <span>{running ? (left < 0 ? "over" : "left") : "not running"}</span>
      </div>
      {running && part && (
        <button type="button" className="field-stop" onClick={() => note("stop", `${part.name} is stopped.`)}>
          Stop
        </button>
      )}
      {next && (
        <button
          type="button"
          className="field-start"
          onClick={() => note("begin", `${next.name} has begun.`, { part: next.place })}
        >
          <b>Start {next.name.toLowerCase()}</b>
          <span>planned {next.minutes} min</span>
        </button>
      )}
    </section>
  );
}
