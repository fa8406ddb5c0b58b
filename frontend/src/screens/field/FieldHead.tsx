import type { Field } from "../../api/client";
import { longDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import type { Stands } from "./fold";

interface Props {
  place: Place;
  field: Field;
  now: number;
  stands: Stands;
}

const offsetText = (offset: number | null) =>
  offset === null ? "" : offset === 0 ? "match day" : `M${offset < 0 ? "−" : "+"}${Math.abs(offset)}`;

/** What is run, the time, and the parts side by side, as wide as they are long. */
export function FieldHead({ place, field, now, stands }: Props) {
  const time = new Date(now * 1000).toLocaleTimeString("en-GB", {
    hour: "2-digit",
    minute: "2-digit",
    timeZone: place.squad.time_zone,
  });
  const running = stands.runs.at(-1);
  return (
    <header className="field-head">
      <div className="field-title">
        <h1>
          <b>
            {field.session.title}, {longDay(field.day)}
          </b>{" "}
          <span>{offsetText(field.offset)}</span>
        </h1>
        {!navigator.onLine && <span className="field-offline">no network</span>}
        <time>{time}</time>
      </div>
      {field.sessions.length > 1 && (
        <nav aria-label="Sessions of the day" className="field-sessions">
          {field.sessions.map((one) => (
            <button
              key={one.id}
              type="button"
              aria-current={one.id === field.session.id ? "page" : undefined}
              onClick={() => place.set({ session: one.id }, true)}
            >
              {one.title}
            </button>
          ))}
        </nav>
      )}
      {field.parts.length > 0 && (
        <ol className="field-parts" aria-label="Parts">
          {field.parts.map((part) => {
            const done = stands.runs.some((run) => run.part === part.place && run.end !== null);
            const runs = running?.end === null && running.part === part.place;
            return (
              <li
                key={part.place}
                style={{ flexGrow: Math.max(part.minutes, 4) }}
                aria-current={runs ? "step" : undefined}
                className={`weight-${Math.round(part.weight)}`}
              >
                <b>{part.name}</b>
                <span>
                  {part.minutes} min{runs ? "" : done ? ", done" : ""}
                </span>
                <i />
              </li>
            );
          })}
        </ol>
      )}
    </header>
  );
}
