import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue } from "react";
import { api, ask, type ChannelItem, type Preview, type Problem } from "../../api/client";
import { type TypedUnit, triedUnit } from "./typedUnit";

/** What a unit would do as it is typed. Typing goes on while the answer to what was typed before comes in. */
export function useUnitPreview(slug: string, channel: ChannelItem | null, typed: TypedUnit, today: string) {
  const code = channel?.code ?? null;
  const asked = useDeferredValue(JSON.stringify(triedUnit(typed, today)));
  return useQuery<Preview, Problem>({
    queryKey: [slug, "preview", code, asked],
    queryFn: ({ signal }) =>
      ask(
        api.POST("/api/squads/{slug}/channels/preview", {
          params: { path: { slug } },
          body: { draft: JSON.parse(asked), channel: code },
          signal,
        }),
      ),
    enabled: typed.kinds.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
}
