import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Own, type Problem } from "../../api/client";
import { longDay } from "../../frame/days";

/** What the club does with the athlete's data, to be agreed to or not; reporting goes on either way. */
export function Consent({ own }: { own: Own }) {
  const queries = useQueryClient();
  const agree = useMutation<unknown, Problem, boolean>({
    mutationFn: (given) =>
      ask(
        api.PUT("/api/squads/{slug}/own/consent", {
          params: { path: { slug: own.slug } },
          body: { given, text: own.consent_text ?? "" },
        }),
      ),
    onSuccess: () => askAgain(queries, [own.slug, "own"]),
  });
  return (
    <details className={own.consent_given ? "consent given" : "consent"}>
      <summary>What happens with what you say</summary>
      <p>{own.consent_text}</p>
      {own.consent_given ? (
        <p>
          You agreed on {longDay(own.consent_given.slice(0, 10))}.{" "}
          <button type="button" className="change" onClick={() => agree.mutate(false)}>
            Take it back
          </button>
        </p>
      ) : (
        <button type="button" className="next" onClick={() => agree.mutate(true)}>
          I agree
        </button>
      )}
      {agree.isError && (
        <p role="alert" className="over">
          {agree.error.message}
        </p>
      )}
    </details>
  );
}
