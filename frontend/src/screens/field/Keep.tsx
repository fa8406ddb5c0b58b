import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Field, type Problem } from "../../api/client";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useOutbox } from "../../offline/outbox";

/** Once nothing runs any more the session can be kept as it was. */
export function Keep({ place, field }: { place: Place; field: Field }) {
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  // The server keeps what it knows: what was noted here has to be there first.
  const waiting = useOutbox().some((item) => "session" in item && item.session === field.session.id);
  const keep = useMutation<{ kept: string[]; left: string[] }, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/sessions/{session_id}/field/finish", {
          params: { path: { slug, session_id: field.session.id } },
        }),
      ),
    onSuccess: ({ kept, left }) => {
      askAgain(queries, [slug]);
      toast(`Kept: ${kept.join(", ")}.${left.length > 0 ? ` Left as they were: ${left.join(", ")}.` : ""}`);
      place.go("/session", { session: field.session.id });
    },
    onError: (problem) => toast(problem.message),
  });
  return (
    <section className="field-keep">
      <p>
        {field.session.title}, {mediumDay(field.day)}: nothing runs any more.
      </p>
      <button
        type="button"
        className="field-wide"
        disabled={keep.isPending || waiting}
        onClick={() => keep.mutate()}
      >
        {waiting ? "Some of it has not arrived yet …" : "Keep the session as it was"}
      </button>
    </section>
  );
}
