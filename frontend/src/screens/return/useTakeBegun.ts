import { api, ask } from "../../api/client";
import type { Place } from "../../frame/place";
import { useDoing } from "../../kit/useDoing";

/** Plans that were just begun, to be as if they never had been. */
export function useTakeBegun(place: Place) {
  const { slug } = place.squad;
  return useDoing([slug], (plans: string[]) =>
    ask(
      api.POST("/api/squads/{slug}/return/squad-break/take-back", {
        params: { path: { slug } },
        body: { plans },
      }),
    ),
  );
}
