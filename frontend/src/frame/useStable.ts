import { useCallback, useRef } from "react";

/** A function that stays the same from one rendering to the next, so that what is given it is not drawn anew. */
export function useStable<Given extends unknown[]>(
  latest: (...given: Given) => void,
): (...given: Given) => void {
  const current = useRef(latest);
  current.current = latest;
  return useCallback((...given: Given) => current.current(...given), []);
}
