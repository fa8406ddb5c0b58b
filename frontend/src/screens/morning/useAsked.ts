import { startTransition, useEffect, useRef, useState } from "react";
import type { Place } from "../../frame/place";

/** Milliseconds of rest after which the address follows. */
export const REST = 100;

/**
 * Whom the desk is about: who was asked for last. The address, and with it the evidence, follows after a moment of
 * rest and between two frames, so that whoever holds a key down moves on without waiting for it.
 */
export function useAsked(place: Pick<Place, "get" | "set">) {
  const there = place.get("athlete");
  const [asked, ask] = useState(there);
  // What the address says, or is about to say, because of this.
  const ours = useRef(there);
  const { set } = place;
  useEffect(() => {
    if (asked === ours.current) return;
    const timer = setTimeout(() => {
      ours.current = asked;
      startTransition(() => set({ athlete: asked }, true));
    }, REST);
    return () => clearTimeout(timer);
  }, [asked, set]);
  useEffect(() => {
    // A link, or going back, counts more than a move before it.
    if (there !== ours.current) {
      ours.current = there;
      ask(there);
    }
  }, [there]);
  return { asked, ask };
}
