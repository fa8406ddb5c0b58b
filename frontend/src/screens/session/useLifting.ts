import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, ask, type WorkRow } from "../../api/client";
import type { components } from "../../api/schema";
import type { Place } from "../../frame/place";
import { emptyLine, type Line, lineFrom, sentLines } from "./lifts";
import { useWork } from "./useWork";

export type Estimate = components["schemas"]["EstimatesOut.SetEstimate"];

const liftingOf = (row?: WorkRow) => row?.works.find((one) => one.what === "lifting");

function linesOf(standing: WorkRow["works"][number] | undefined): Line[] {
  const items = (standing?.data.items as Record<string, unknown>[] | undefined) ?? [];
  return [...items.map(lineFrom), emptyLine()];
}

/** An athlete's lines as they are typed, what each comes to, and saving them. */
export function useLifting(place: Place, session: string, row: WorkRow) {
  const slug = place.squad.slug;
  const save = useWork(place, session);
  const standing = liftingOf(row);
  const [lines, setLines] = useState(() => linesOf(standing));
  const [touched, setTouched] = useState(false);
  // What the lines were read from: a save of older lines is refused, and nothing typed gives way to what came meanwhile.
  const [base, setBase] = useState(standing?.version ?? null);
  if ((standing?.version ?? null) !== base && !touched && !save.isPending) {
    setBase(standing?.version ?? null);
    setLines(linesOf(standing));
  }
  const { items, at, wrong } = sentLines(lines);
  const asked = useDeferredValue(JSON.stringify(items));
  const estimate = useQuery({
    queryKey: [slug, "estimate", asked],
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/lifting/estimate", {
          params: { path: { slug } },
          body: { items: JSON.parse(asked) },
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: items.length > 0,
    retry: false,
  });
  const change = (i: number, changes: Partial<Line>) => {
    setTouched(true);
    setLines((before) => {
      const next = before.map((line, other) => (other === i ? { ...line, ...changes } : line));
      return next.at(-1)?.exercise ? [...next, emptyLine()] : next;
    });
  };
  const submit = () => {
    const data = items.length ? { items } : null;
    setTouched(false);
    save.mutate([{ athlete_id: row.athlete_id, what: "lifting", data, version: base }], {
      onSuccess: (work) => {
        const saved = work.rows.find((one) => one.athlete_id === row.athlete_id);
        setBase(liftingOf(saved)?.version ?? null);
      },
      onError: () => setTouched(true),
    });
  };
  return {
    lines,
    wrong,
    touched,
    estimate,
    save,
    saved: standing !== undefined && !touched && !save.isPending,
    change,
    submit,
    said: (line: number) => (at.includes(line) ? estimate.data?.items[at.indexOf(line)] : undefined),
    tonnage: items.length ? (estimate.data?.items.reduce((sum, one) => sum + one.tonnage, 0) ?? 0) : 0,
  };
}
