import type { FilePreview, People } from "../../api/client";
import { Select } from "../../kit/fields";

interface WhoIsMeantProps {
  people: FilePreview["people"];
  athletes: People["athletes"];
  /** `said` is empty for the athlete of the whole file; `athlete` is null for nobody of the squad. */
  onSay: (said: string, athlete: number | null) => void;
}

/** Names that nobody of the squad has, each to be told once; and who the others are taken for, to be changed. */
export function WhoIsMeant({ people, athletes, onSay }: WhoIsMeantProps) {
  const unknown = people.filter((person) => !person.known);
  const known = people.filter((person) => person.known && person.said);
  const whole = people.find((person) => person.known && !person.said);
  const owner = athletes.find((one) => one.athlete_id === whole?.athlete_id);
  return (
    <>
      {owner && <p>All of it is of {owner.name}.</p>}
      {unknown.length > 0 && (
        <fieldset className="who">
          <legend>Who is meant? It is remembered for the next file.</legend>
          {unknown.map((person) => (
            <Person key={person.said} person={person} athletes={athletes} onSay={onSay} />
          ))}
        </fieldset>
      )}
      {known.length > 0 && (
        <details>
          <summary>
            {known.length} of {people.length} people known: who is taken for whom
          </summary>
          <div className="who">
            {known.map((person) => (
              <Person key={person.said} person={person} athletes={athletes} onSay={onSay} />
            ))}
          </div>
        </details>
      )}
    </>
  );
}

interface PersonProps extends Omit<WhoIsMeantProps, "people"> {
  person: FilePreview["people"][number];
}

function Person({ person, athletes, onSay }: PersonProps) {
  const said = person.said || "The athlete of this file";
  const value = person.athlete_id !== null ? String(person.athlete_id) : person.known ? "none" : "";
  return (
    <div>
      <b>{said}</b>
      <Select
        size="xs"
        label={`${said} is`}
        value={value}
        onChange={(id) => onSay(person.said, id === "none" ? null : Number(id))}
      >
        {!person.known && <option value="">choose</option>}
        {athletes.map((one) => (
          <option key={one.athlete_id} value={one.athlete_id}>
            {one.name}
          </option>
        ))}
        {person.said && <option value="none">none of the squad, leave out</option>}
      </Select>
    </div>
  );
}
