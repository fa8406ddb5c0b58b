import { useQueryClient } from "@tanstack/react-query";
import { api, ask, type ReturnWhole } from "../../api/client";
import { returnsQuery } from "../../api/queries/return";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useDoing } from "../../kit/useDoing";

/** What is said of a stage: moved, kept, measured, a word given; whatever was said last is taken back by its undo. */
export function useStage(place: Place, whole: ReturnWhole) {
  const { slug } = place.squad;
  const toast = useToast();
  const queries = useQueryClient();
  const path = { params: { path: { slug, plan_id: whole.row.plan_id } } };
  const back = useDoing([slug], () => ask(api.POST("/api/squads/{slug}/return/{plan_id}/take-back", path)));
  const said = (what: string) => toast(what, () => back.mutate());
  return {
    signOff: queries.getQueryData(returnsQuery(slug, place.day).queryKey)?.sign_off ?? false,
    move: useDoing(
      [slug],
      ({ to, words }: { to: number; words: string }) =>
        ask(
          api.POST("/api/squads/{slug}/return/{plan_id}/stage", {
            ...path,
            body: { to, words, version: whole.version },
          }),
        ),
      (_, { to }) =>
        said(to > (whole.stage?.of ?? 0) ? "The plan is over." : `${whole.row.name} is in stage ${to}.`),
    ),
    keep: useDoing(
      [slug],
      (words: string) =>
        ask(api.POST("/api/squads/{slug}/return/{plan_id}/keep", { ...path, body: { words } })),
      () => said("The stage is kept."),
    ),
    word: useDoing(
      [slug],
      () => ask(api.POST("/api/squads/{slug}/return/{plan_id}/word", { ...path, body: { words: "" } })),
      () => said("Your word is given."),
    ),
    measure: useDoing(
      [slug],
      (body: { criterion: string; value: number; other: number }) =>
        ask(api.POST("/api/squads/{slug}/return/{plan_id}/measured", { ...path, body })),
      () => said("Measured."),
    ),
    end: useDoing(
      [slug],
      () => ask(api.POST("/api/squads/{slug}/return/{plan_id}/end", { ...path, body: { words: "" } })),
      () => said("The plan is over."),
    ),
  };
}
