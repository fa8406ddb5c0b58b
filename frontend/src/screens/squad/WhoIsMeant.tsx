import type { FilePreview, People } from "../../api/client";
import { Select } from "../../kit/fields";

interface WhoIsMeantProps {
  unknown: FilePreview["people"];
  athletes: People["athletes"];
  /** `said` is empty for the athlete of the whole file; `athlete` is null for nobody of the squad. */
  onSay: (said: string, athlete: number | null) => void;
}

/** Names of a file that nobody of the squad has, each to be told once. */
export function WhoIsMeant({ unknown, athletes, onSay }: WhoIsMeantProps) {
  return (
    <fieldset className="who">
      <legend>Who is meant? It is remembered for the next file.</legend>
      {unknown.map((person) => (
        <div key={person.said}>
          <b>{person.said || "The athlete of this file"}</b>
          <Select
            size="xs"
            label={`${person.said || "The athlete of this file"} is`}
            value=""
            onChange={(id) => onSay(person.said, id === "none" ? null : Number(id))}
          >
            <option value="">choose</option>
            {athletes.map((one) => (
              <option key={one.athlete_id} value={one.athlete_id}>
                {one.name}
              </option>
            ))}
            {person.said && <option value="none">none of the squad, leave out</option>}
          </Select>
        </div>
      ))}
    </fieldset>
  );
}
