import { useMemo, useState } from "react";
import type { Field, FieldEventBody } from "../../api/client";
import type { Place } from "../../frame/place";
import { fold, type Spell } from "./fold";
import { Spells } from "./Spells";
import { Tile } from "./Tile";
import { type Note, noted, rulesOf } from "./useField";

interface Props {
  place: Place;
  field: Field;
  events: FieldEventBody[];
  note: Note;
  now: number;
}

const NONE: Spell = { count: 0, total: 0, breakUntil: null, over: 0 };

/** Counts by tap, spell by spell; a hold takes one back. */
export function Counting({ place, field, events, note, now }: Props) {
  const [added, setAdded] = useState<number[]>([]);
  const [what, setWhat] = useState(field.spells[0]?.what ?? field.countables[0]?.code ?? "");
  const countable = field.countables.find((one) => one.code === what) ?? field.countables[0];
  const code = countable?.code ?? "";
  const rules = useMemo(() => rulesOf(field, code), [field, code]);
  const spells = useMemo(() => fold(events.map(noted), rules, code).spells, [events, rules, code]);
  const mine = field.spells.filter((spell) => spell.what === code);
  const own = new Set(mine.map((spell) => spell.athlete_id));
  const shown = field.rows.filter(
    (row) => own.has(row.athlete_id) || spells.has(row.athlete_id) || added.includes(row.athlete_id),
  );
  if (!countable) return null;
  return (
    <section className="field-counts" aria-label="Counts">
      <h2>
        <b>{countable.name}, spell and break</b>{" "}
        <span className="field-end">tap counts one, hold takes one back</span>
      </h2>
      <div className="field-tiles">
        {shown.map((row) => (
          <Tile
            key={row.athlete_id}
            name={row.name}
            spell={spells.get(row.athlete_id) ?? NONE}
            rule={rules.get(row.athlete_id)}
            now={now}
            onCount={(by) =>
              note("count", by > 0 ? `${row.name}: one more.` : `${row.name}: one taken back.`, {
                athlete: row.athlete_id,
                amount: by,
                what: countable.code,
              })
            }
          />
        ))}
      </div>
      <div className="field-more">
        <select
          aria-label="Count for somebody else"
          value=""
          onChange={(event) => setAdded([...added, Number(event.target.value)])}
        >
          <option value="">Count for …</option>
          {field.rows
            .filter((row) => !shown.includes(row))
            .map((row) => (
              <option key={row.athlete_id} value={row.athlete_id}>
                {row.name}
              </option>
            ))}
        </select>
        {field.countables.length > 1 && (
          <select
            aria-label="What is counted"
            value={countable.code}
            onChange={(event) => setWhat(event.target.value)}
          >
            {field.countables.map((one) => (
              <option key={one.code} value={one.code}>
                {one.name}
              </option>
            ))}
          </select>
        )}
        <Spells place={place} field={field} what={countable.code} />
      </div>
    </section>
  );
}
