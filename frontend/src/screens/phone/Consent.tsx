import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, ask, type Own, type Problem } from "../../api/client";

/** What the club does with the athlete's data, to be agreed to or not; reporting goes on either way. */
export function Consent({ own }: { own: Own }) {
  const queries = useQueryClient();
  const agree = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.PUT("/api/squads/{slug}/own/consent", {
          params: { path: { slug: own.slug } },
          body: { given: true, text: own.consent_text ?? "" },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: [own.slug, "own"] }),
  });
  return (
    <details className="consent">
      <summary>What happens with what you say</summary>
      <p>{own.consent_text}</p>
      <button type="button" className="next" onClick={() => agree.mutate()}>
        I agree
      </button>
      {agree.isError && (
        <p role="alert" className="over">
          {agree.error.message}
        </p>
      )}
    </details>
  );
}
