import { startTransition, useCallback, useEffect, useState } from "react";
import type { Place } from "../../frame/place";

/** Milliseconds of rest after which the address follows. */
export const REST = 100;

/**
 * Whom the desk is about: who was asked for last. The address, and with it the evidence, follows after a moment of
 * rest and between two frames, so that whoever holds a key down moves on without waiting for it.
 */
export function useAsked(place: Pick<Place, "get" | "set">) {
  const there = place.get("athlete");
  const [moved, setMoved] = useState<{ from: string | null; to: string | null } | null>(null);
  // When the address says something else meanwhile, by a link or by going back, that counts.
  const asked = moved && moved.from === there ? moved.to : there;
  const ask = useCallback((to: string | null) => setMoved({ from: there, to }), [there]);
  const { set } = place;
  useEffect(() => {
    if (!moved) return;
    if (asked === there) return setMoved(null);
    const timer = setTimeout(() => startTransition(() => set({ athlete: asked }, true)), REST);
    return () => clearTimeout(timer);
  }, [moved, asked, there, set]);
  return { asked, ask };
}
