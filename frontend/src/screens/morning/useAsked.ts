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
  // What the address says, and after it what it is about to say because of this, in that order.
  const ours = useRef([there]);
  const { set } = place;
  useEffect(() => {
    if (asked === ours.current.at(-1)) return;
    const timer = setTimeout(() => {
      ours.current.push(asked);
      startTransition(() => set({ athlete: asked }, true));
    }, REST);
    return () => clearTimeout(timer);
  }, [asked, set]);
  useEffect(() => {
    const at = ours.current.indexOf(there);
    ours.current = at < 0 ? [there] : ours.current.slice(at);
    // A link, or going back, counts more than a move before it; an address of ours that comes late does not.
    if (at < 0) ask(there);
  }, [there]);
  return { asked, ask };
}
