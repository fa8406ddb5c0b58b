import { useState } from "react";
import type { Field } from "../../api/client";
import type { Stands } from "./fold";
import { clock, type Note } from "./useField";

interface Props {
  field: Field;
  stands: Stands;
  note: Note;
  now: number;
}

/** A match: a lane for each place on the field, with who has it and who had it. */
export function OnField({ field, stands, note, now }: Props) {
  const [added, setAdded] = useState<string[]>([]);
  const [name, setName] = useState("");
  const places = [...new Set([...field.places.names, ...stands.stints.map((one) => one.place), ...added])];
  const on = stands.stints.filter((one) => one.end === null).length;
  const { most } = field.places;
  const names = new Map(field.rows.map((row) => [row.athlete_id, row.name]));
  const change = (place: string, athlete: string) => {
    const there = stands.stints.find((one) => one.place === place && one.end === null);
    if (athlete)
      note("on", `${names.get(Number(athlete))} is on: ${place}.`, {
        athlete: Number(athlete),
        words: place,
      });
    else if (there) note("off", `${names.get(there.athlete)} is off.`, { athlete: there.athlete });
  };
  return (
    <section className="field-on" aria-label="On the field">
      <h2>
        <b>On the field: {on}</b> <span>whoever comes on in a place sends off who had it</span>
      </h2>
      {most !== null && on > most && (
        <p role="alert" className="field-error">
          {on} are on; in the match before it was {most} at most. Is somebody to go off?
        </p>
      )}
      {places.map((place) => {
        const mine = stands.stints.filter((one) => one.place === place);
        const there = mine.find((one) => one.end === null);
        return (
          <div key={place} className="field-row">
            <p>
              {place}
              <small>
                {mine
                  .map((one) => `${names.get(one.athlete) ?? "?"} ${clock((one.end ?? now) - one.begin)}`)
                  .join(", ")}
              </small>
            </p>
            <select
              aria-label={`Who is on: ${place}`}
              value={there?.athlete ?? ""}
              onChange={(event) => change(place, event.target.value)}
            >
              <option value="">nobody</option>
              {field.rows
                .filter((row) => row.group !== "out")
                .map((row) => (
                  <option key={row.athlete_id} value={row.athlete_id}>
                    {row.name}
                  </option>
                ))}
            </select>
          </div>
        );
      })}
      <form
        className="field-more"
        onSubmit={(event) => {
          event.preventDefault();
          if (name.trim() && !places.includes(name.trim())) setAdded([...added, name.trim()]);
          setName("");
        }}
      >
        <input
          aria-label="A place on the field"
          placeholder="left back"
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <button type="submit">Add a place</button>
      </form>
    </section>
  );
}
