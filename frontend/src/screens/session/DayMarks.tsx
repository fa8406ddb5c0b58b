import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Planned, type Problem } from "../../api/client";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";

type Kind = Planned["marks"][number]["mark"];

const SAID: [Kind | null, string][] = [
  [null, "nothing is said of it; it counts as a day without load"],
  ["off", "it was off"],
  ["unknown", "what was done is not known; it counts for nobody as rest"],
];

/** What is said of the day that is looked at, where there is no session on it. */
export function DayMarks({ place, planned }: { place: Place; planned: Planned }) {
  const { slug } = place.squad;
  const queries = useQueryClient();
  const toast = useToast();
  const [chosen, setChosen] = useState<Kind | null | undefined>();
  const mark = useMutation<unknown, Problem, Kind | null>({
    mutationFn: (kind) =>
      ask(
        api.PUT("/api/squads/{slug}/sessions/marks", {
          params: { path: { slug } },
          body: { day: place.day, mark: kind },
        }),
      ),
    onMutate: setChosen,
    onSettled: () => askAgain(queries, [slug]),
    onError: (problem) => {
      setChosen(undefined);
      toast(problem.message);
    },
  });
  if (planned.sessions.some((one) => one.day === place.day && !one.called_off)) return null;
  const kept = planned.marks.find((one) => one.day === place.day)?.mark ?? null;
  const now = chosen === undefined ? kept : chosen;
  return (
    <fieldset className="day-marks">
      <legend>No session on {mediumDay(place.day)}</legend>
      {SAID.filter(([kind]) => kind !== "unknown" || place.day <= place.squad.today).map(([kind, said]) => (
        <label key={said}>
          <input type="radio" name="mark" checked={now === kind} onChange={() => mark.mutate(kind)} />
          <span>{said}</span>
        </label>
      ))}
    </fieldset>
  );
}
