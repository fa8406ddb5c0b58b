import { useState } from "react";
import type { Field, FieldEventBody } from "../../api/client";
import type { Note } from "./useField";

interface Props {
  field: Field;
  events: FieldEventBody[];
  note: Note;
  takeBack: (id: string) => void;
}

const READY = ["looks tired", "breathing hard", "went well", "asked to stop"];

/** Words about somebody or the session, by tap or typed; everybody at the pitch reads them. */
export function QuickWords({ field, events, note, takeBack }: Props) {
  const [athlete, setAthlete] = useState("");
  const [words, setWords] = useState("");
  const names = new Map(field.rows.map((row) => [row.athlete_id, row.name]));
  const said = events.filter((one) => one.kind === "note").reverse();
  const say = (text: string) => {
    if (!text.trim()) return;
    const who = athlete ? { athlete: Number(athlete) } : {};
    note("note", "Noted.", { ...who, words: text.trim() });
    setWords("");
  };
  return (
    <section className="field-words" aria-label="Words">
      <h2>
        <b>Words</b> <span>everybody at the pitch reads them</span>
      </h2>
      <form
        className="field-more"
        onSubmit={(event) => {
          event.preventDefault();
          say(words);
        }}
      >
        <select aria-label="About whom" value={athlete} onChange={(event) => setAthlete(event.target.value)}>
          <option value="">the session</option>
          {field.rows.map((row) => (
            <option key={row.athlete_id} value={row.athlete_id}>
              {row.name}
            </option>
          ))}
        </select>
        <input
          aria-label="Words"
          maxLength={400}
          placeholder="knee quiet"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <button type="submit">Note</button>
      </form>
      {athlete && (
        <div className="field-more">
          {READY.map((text) => (
            <button key={text} type="button" onClick={() => say(text)}>
              {text}
            </button>
          ))}
        </div>
      )}
      <ul>
        {said.slice(0, 6).map((one) => (
          <li key={one.id}>
            <b>{one.athlete_id ? names.get(one.athlete_id) : "Session"}</b> {one.words}{" "}
            <button type="button" className="text-button" onClick={() => takeBack(one.id)}>
              take back
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
