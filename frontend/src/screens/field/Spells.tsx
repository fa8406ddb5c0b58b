import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Field, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { SpellForm } from "./SpellForm";

interface Props {
  place: Place;
  field: Field;
  /** What is counted. */
  what: string;
}

interface Wanted {
  athlete: number | null;
  most: number;
  minutes: number;
}

/** Spells of what is counted, each with a way to end it, and a form for another. */
export function Spells({ place, field, what }: Props) {
  const [open, setOpen] = useState(false);
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  const again = () => askAgain(queries, [slug, "field"]);
  const withdraw = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/field/spells/{spell_id}", {
          params: { path: { slug, spell_id: id } },
        }),
      ),
    onSuccess: again,
    onError: (problem) => toast(problem.message),
  });
  const set = useMutation<{ id: string }, Problem, Wanted>({
    mutationFn: ({ athlete, most, minutes }) =>
      ask(
        api.PUT("/api/squads/{slug}/field/spells", {
          params: { path: { slug }, query: { day: field.day } },
          body: { athlete_id: athlete, what, most, break_minutes: minutes },
        }),
      ),
    onSuccess: (made) => {
      setOpen(false);
      toast("The spell holds from today on.", () => withdraw.mutate(made.id));
      again();
    },
    onError: (problem) => toast(problem.message),
  });
  const names = new Map(field.rows.map((row) => [row.athlete_id, row.name]));
  return (
    <>
      {open ? (
        <SpellForm field={field} onSet={set.mutate} onClose={() => setOpen(false)} />
      ) : (
        <button type="button" onClick={() => setOpen(true)}>
          Set a spell
        </button>
      )}
      {field.spells
        .filter((one) => one.what === what)
        .map((one) => (
          <p key={one.id} className="field-held">
            {one.athlete_id === null ? "Everybody" : names.get(one.athlete_id)}: at most {one.most}, then{" "}
            {one.break_minutes} min{" "}
            <button type="button" className="text-button" onClick={() => withdraw.mutate(one.id)}>
              Withdraw
            </button>
          </p>
        ))}
    </>
  );
}
