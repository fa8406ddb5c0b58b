import { useCallback, useState } from "react";

/** Width of an element in whole pixels, kept up to date; `fallback` until it is known. */
export function useWidth(
  fallback: number,
): [(element: HTMLElement | null) => (() => void) | undefined, number] {
  const [width, setWidth] = useState(fallback);
  const ref = useCallback((element: HTMLElement | null) => {
    if (!element) return;
    const measure = () => {
      const now = Math.floor(element.clientWidth);
      if (now > 0) setWidth(now);
    };
    measure();
    const observer = new ResizeObserver(measure);
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  return [ref, width];
}
