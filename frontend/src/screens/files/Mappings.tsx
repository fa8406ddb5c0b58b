import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Files, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";

/** How files are read, kept by name. */
export function Mappings({ place, mappings }: { place: Place; mappings: Files["mappings"] }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const remove = useMutation<unknown, Problem, number>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/files/mappings/{mapping_id}", {
          params: { path: { slug, mapping_id: id } },
        }),
      ),
    onSuccess: () => askAgain(queries, [slug, "files"]),
    onError: (problem) => toast(problem.message),
  });
  if (mappings.length === 0) return null;
  return (
    <section aria-labelledby="mappings-head" style={{ padding: "18px var(--margin)" }}>
      <h2 id="mappings-head" style={{ margin: "0 0 6px", fontSize: "var(--type-body)", fontWeight: 650 }}>
        How files are read
      </h2>
      <ul className="place-list">
        {mappings.map((one) => (
          <li key={one.id}>
            <b style={{ fontWeight: 650 }}>{one.name}</b>{" "}
            <span className="quiet">
              {(one.spec.columns as { role: string }[]).filter((column) => column.role !== "ignore").length}{" "}
              columns, kept by {one.set_by}
            </span>
            <button
              type="button"
              className="text-button"
              aria-label={`Forget ${one.name}`}
              onClick={() => remove.mutate(one.id)}
            >
              forget
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
