import { Button, Input } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Channels, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useWords } from "../../kit/useWords";

/** Where and in what conditions the squad works; a unit may carry a factor for each. */
export function Places({ place, places }: { place: Place; places: Channels["places"] }) {
  const queries = useQueryClient();
  const toast = useToast();
  const { words: name, setWords: setName, take, back } = useWords();
  const may = place.may("edit_units");
  const slug = place.squad.slug;
  const renew = () => askAgain(queries, [slug, "channels"]);
  const add = useMutation<unknown, Problem, string>({
    mutationFn: (wanted) =>
      ask(api.POST("/api/squads/{slug}/places", { params: { path: { slug } }, body: { name: wanted } })),
    onError: (_problem, wanted) => back(wanted),
    onSuccess: renew,
  });
  const remove = useMutation<unknown, Problem, { id: number; name: string }>({
    mutationFn: ({ id }) =>
      ask(api.DELETE("/api/squads/{slug}/places/{place_id}", { params: { path: { slug, place_id: id } } })),
    onSuccess: (_done, gone) => {
      toast(`${gone.name} is off the list; sessions there keep its name.`, () => add.mutate(gone.name));
      renew();
    },
    onError: (problem) => toast(problem.message),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (name.trim()) add.mutate(take());
  };
  return (
    <section aria-labelledby="places-head" style={{ padding: "18px var(--margin)" }}>
      <h2 id="places-head" style={{ margin: "0 0 4px", fontSize: "var(--type-body)", fontWeight: 650 }}>
        Places and conditions
      </h2>
      <p className="quiet" style={{ margin: "0 0 8px", maxWidth: 620 }}>
        The same minutes elsewhere are not the same load: a unit may carry a factor for each place.
      </p>
      <ul className="place-list">
        {places.map((one) => (
          <li key={one.id}>
            {one.name}
            {may && (
              <button
                type="button"
                className="text-button"
                aria-label={`Take ${one.name} off the list`}
                onClick={() => remove.mutate(one)}
              >
                remove
              </button>
            )}
          </li>
        ))}
        {places.length === 0 && <li className="quiet">None yet.</li>}
      </ul>
      {may && (
        <form onSubmit={submit} style={{ display: "flex", gap: 8, maxWidth: 320 }}>
          <Input
            size="xs"
            aria-label="New place"
            placeholder="sand, water, heat …"
            maxLength={60}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <Button type="submit" size="xs" variant="outline" loading={add.isPending}>
            Add
          </Button>
        </form>
      )}
      {add.error && (
        <p className="field-error" role="alert">
          {add.error.message}
        </p>
      )}
    </section>
  );
}
