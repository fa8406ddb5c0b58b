import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Field, type Problem } from "../../api/client";
import { SpellTicks } from "../../charts/SpellTicks";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import type { Rule, Spell, Stands } from "./fold";
import { SpellForm } from "./SpellForm";
import { clock, type Note, rulesOf } from "./useField";

interface Props {
  place: Place;
  field: Field;
  stands: Stands;
  note: Note;
  now: number;
}

const NONE: Spell = { count: 0, total: 0, breakUntil: null, over: 0 };
const HOLD_MS = 550;

/** Counts by tap, spell by spell; a hold takes one back. */
export function Counting({ place, field, stands, note, now }: Props) {
  const [added, setAdded] = useState<number[]>([]);
  const [what, setWhat] = useState(field.spells[0]?.what ?? field.countables[0]?.code ?? "");
  const rules = rulesOf(field);
  const countable = field.countables.find((one) => one.code === what) ?? field.countables[0];
  const own = new Set(field.spells.map((spell) => spell.athlete_id));
  const shown = field.rows.filter(
    (row) => own.has(row.athlete_id) || stands.spells.has(row.athlete_id) || added.includes(row.athlete_id),
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
            spell={stands.spells.get(row.athlete_id) ?? NONE}
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

interface TileProps {
  name: string;
  spell: Spell;
  rule: Rule | undefined;
  now: number;
  onCount: (by: number) => void;
}

/** One athlete's count. A long press, or the minus key, takes one back. */
function Tile({ name, spell, rule, now, onCount }: TileProps) {
  const held = useRef<ReturnType<typeof setTimeout>>(undefined);
  const taken = useRef(false);
  const onBreak = spell.breakUntil !== null && now < spell.breakUntil;
  const count = spell.breakUntil !== null && !onBreak ? 0 : spell.count;
  const down = () => {
    taken.current = false;
    held.current = setTimeout(() => {
      taken.current = true;
      onCount(-1);
    }, HOLD_MS);
  };
  return (
    <div className={`field-tile${onBreak ? " on-break" : ""}`}>
      <p>
        <b>{name}</b>{" "}
        <span>
          {onBreak
            ? `on a break${spell.over > 0 ? `, ${spell.over} over` : ""}`
            : rule
              ? `${count} of ${rule[0]}, break in ${rule[0] - count}`
              : `${spell.total} in all`}
        </span>
        <SpellTicks
          count={count}
          most={rule?.[0] ?? null}
          left={onBreak ? breakShare(spell, rule, now) : null}
        />
      </p>
      <button
        type="button"
        aria-label={`${name}: count one`}
        onPointerDown={down}
        onPointerUp={() => clearTimeout(held.current)}
        onPointerLeave={() => clearTimeout(held.current)}
        onContextMenu={(event) => event.preventDefault()}
        onKeyDown={(event) => event.key === "-" && onCount(-1)}
        onClick={() => !taken.current && onCount(1)}
      >
        {onBreak ? clock((spell.breakUntil ?? 0) - now) : count}
      </button>
    </div>
  );
}

const breakShare = (spell: Spell, rule: Rule | undefined, now: number) =>
  Math.min(Math.max(((spell.breakUntil ?? now) - now) / (rule?.[1] ?? 120), 0), 1);

/** Spells in force, and a form for another. */
function Spells({ place, field, what }: { place: Place; field: Field; what: string }) {
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  const set = useMutation<unknown, Problem, { athlete: number | null; most: number; minutes: number }>({
    mutationFn: ({ athlete, most, minutes }) =>
      ask(
        api.PUT("/api/squads/{slug}/field/spells", {
          params: { path: { slug }, query: { day: field.day } },
          body: { athlete_id: athlete, what, most, break_minutes: minutes },
        }),
      ),
    onSuccess: () => {
      setOpen(false);
      toast("The spell holds from today on.");
      askAgain(queries, [slug, "field"]);
    },
    onError: (problem) => toast(problem.message),
  });
  if (!open)
    return (
      <button type="button" onClick={() => setOpen(true)}>
        Set a spell
      </button>
    );
  return <SpellForm field={field} onSet={set.mutate} onClose={() => setOpen(false)} />;
}
