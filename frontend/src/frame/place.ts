/** Where one is: squad, day and what is chosen, all of it in the address, so that a link shows the same again. */

import { useCallback } from "react";
import { useLocation, useNavigate, useSearchParams } from "react-router";
import type { Me, SquadInfo } from "../api/client";
import { isDay } from "./days";

export interface Place {
  squad: SquadInfo;
  day: string;
  may: (action: SquadInfo["may"][number]) => boolean;
  /** A value of the address, or null. */
  get: (name: string) => string | null;
  /** Change values of the address; null takes one out. */
  set: (changes: Record<string, string | null>, replace?: boolean) => void;
  /** Address of another screen with the same squad and day. */
  to: (path: string, changes?: Record<string, string | null>) => string;
  go: (path: string, changes?: Record<string, string | null>) => void;
}

/** The place, or null where the person is part of no squad; `wrong` says what the address asked for in vain. */
export function usePlace(me: Me): { place: Place | null; wrong: string | null } {
  const [search, setSearch] = useSearchParams();
  const navigate = useNavigate();
  const { pathname } = useLocation();
  const asked = search.get("squad");
  const squad = me.squads.find((one) => one.slug === asked) ?? me.squads[0];
  const askedDay = search.get("day");
  const day = isDay(askedDay) ? askedDay : (squad?.today ?? "");

  const set = useCallback(
    (changes: Record<string, string | null>, replace = false) => {
      // What the address bar says now may be ahead of what is on screen.
      setSearch(merged(new URLSearchParams(window.location.search), changes), { replace });
    },
    [setSearch],
  );
  if (!squad) return { place: null, wrong: null };

  const kept = { squad: squad.slug, day };
  const to = (path: string, changes: Record<string, string | null> = {}) =>
    `${path}?${merged(new URLSearchParams(kept), changes)}`;
  let wrong: string | null = null;
  if (asked && asked !== squad.slug)
    wrong = "The squad of this link does not exist, or you are not part of it.";
  else if (askedDay && !isDay(askedDay)) wrong = `“${askedDay}” is not a day such as ${squad.today}.`;
  const place: Place = {
    squad,
    day,
    may: (action) => squad.may.includes(action),
    get: (name) => search.get(name),
    set,
    to,
    go: (path, changes) => {
      const target = to(path, changes);
      if (target !== pathname + window.location.search) navigate(target);
    },
  };
  return { place, wrong };
}

function merged(before: URLSearchParams, changes: Record<string, string | null>): URLSearchParams {
  const after = new URLSearchParams(before);
  for (const [name, value] of Object.entries(changes)) {
    if (value === null) after.delete(name);
    else after.set(name, value);
  }
  return after;
}
