import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useFieldArray } from "react-hook-form";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type Season, type SeasonPhase } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { ChoiceField, Form, TextField, useSending } from "../../kit/form";
import { following, KINDS, wrongIn } from "./phases";

interface Typed {
  phases: SeasonPhase[];
}

/** All phases as they are typed, saved as a whole. */
export function PhasesForm({ place, season }: { place: Place; season: Season }) {
  const { slug } = place.squad;
  const toast = useToast();
  const send = (phases: SeasonPhase[], edition: string | null) =>
    ask(api.PUT("/api/squads/{slug}/season", { params: { path: { slug } }, body: { phases, edition } }));
  const back = usePutBack(slug, send);
  const of = useSending<Typed, { edition: string | null }>({
    start: { phases: season.phases },
    check: ({ phases }) => wrongIn(phases),
    seen: season.edition,
    send: ({ phases }, seen) => send(phases, seen as string | null),
    stands: ({ edition }) => edition,
    saved: ({ edition }) =>
      toast("The season is as you said.", () => back.mutate({ phases: season.phases, edition })),
    renews: [slug, "season"],
  });
  const rows = useFieldArray({ control: of.form.control, name: "phases" });
  return (
    <Form of={of} action="Save the season" head={rows.fields.length > 0 ? "Phases" : undefined}>
      {rows.fields.length === 0 && (
        <p className="quiet">
          Say when you prepare, when you compete and when you rest: a phase after the other. The calendar and
          the plans ahead go by it.
        </p>
      )}
      {rows.fields.map((row, i) => (
        <fieldset key={row.id} className="phase-row" aria-label={`Phase ${i + 1}`}>
          <ChoiceField of={of} name={`phases.${i}.kind`} label="For" options={Object.entries(KINDS)} />
          <TextField
            of={of}
            name={`phases.${i}.name`}
            label="Name"
            maxLength={60}
            placeholder={KINDS[of.typed.phases[i]?.kind ?? "preparation"]}
          />
          <TextField of={of} name={`phases.${i}.first`} label="From" type="date" />
          <TextField of={of} name={`phases.${i}.last`} label="To" type="date" />
          <button
            type="button"
            className="text-button"
            aria-label={`Remove phase ${i + 1}`}
            onClick={() => rows.remove(i)}
          >
            remove
          </button>
        </fieldset>
      ))}
      <button
        type="button"
        className="text-button"
        onClick={() => rows.append(following(of.typed.phases, place.day))}
      >
        Add a phase
      </button>
    </Form>
  );
}

/** Lets a season be again what it was. */
function usePutBack(slug: string, send: (phases: SeasonPhase[], edition: string | null) => Promise<unknown>) {
  const queries = useQueryClient();
  const toast = useToast();
  return useMutation<unknown, Problem, { phases: SeasonPhase[]; edition: string | null }>({
    mutationFn: ({ phases, edition }) => send(phases, edition),
    onSuccess: () => askAgain(queries, [slug, "season"]),
    onError: (problem) => toast(problem.message),
  });
}
