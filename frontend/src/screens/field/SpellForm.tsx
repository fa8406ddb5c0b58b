import { useState } from "react";
import type { Field } from "../../api/client";

interface Props {
  field: Field;
  onSet: (spell: { athlete: number | null; most: number; minutes: number }) => void;
  onClose: () => void;
}

/** At most so many, then a break, for everybody or for one. */
export function SpellForm({ field, onSet, onClose }: Props) {
  const [athlete, setAthlete] = useState("");
  const [most, setMost] = useState("30");
  const [minutes, setMinutes] = useState("10");
  const [wrong, setWrong] = useState("");
  const save = () => {
    const count = Number(most);
    const long = Number(minutes.replace(",", "."));
    if (!(Number.isInteger(count) && count >= 1 && count <= 1000))
      return setWrong("A whole number from 1 to 1000.");
    if (!(long >= 0.5 && long <= 120)) return setWrong("A break is between half a minute and two hours.");
    onSet({ athlete: athlete ? Number(athlete) : null, most: count, minutes: long });
  };
  return (
    <form
      className="field-spell"
      onSubmit={(event) => {
        event.preventDefault();
        save();
      }}
    >
      <label>
        Whose
        <select value={athlete} onChange={(event) => setAthlete(event.target.value)}>
          <option value="">everybody</option>
          {field.rows.map((row) => (
            <option key={row.athlete_id} value={row.athlete_id}>
              {row.name}
            </option>
          ))}
        </select>
      </label>
      <label>
        At most
        <input inputMode="numeric" value={most} onChange={(event) => setMost(event.target.value)} />
      </label>
      <label>
        then a break, min
        <input inputMode="decimal" value={minutes} onChange={(event) => setMinutes(event.target.value)} />
      </label>
      <button type="submit">Set it</button>
      <button type="button" onClick={onClose}>
        Cancel
      </button>
      {wrong && (
        <p role="alert" className="field-error">
          {wrong}
        </p>
      )}
    </form>
  );
}
