/**
 * Keys of a screen. They rest while something is being typed.
 *
 * Ours, and not a package's: a key is the letter it writes, however a keyboard writes it. On many of them `[` needs
 * AltGr and `?` needs Shift, which the packages ask to be named.
 */

import { useEffect, useRef } from "react";

export type KeyMap = Record<string, (event: KeyboardEvent) => void>;

export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  return target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName);
}

/** Listen for single keys (`j`, `[`, `Enter`) and for two in a row (`g m`). */
export function useKeys(map: KeyMap, active = true) {
  const latest = useRef(map);
  latest.current = map;
  useEffect(() => {
    if (!active) return;
    let first = "";
    let since = 0;
    const listen = (event: KeyboardEvent) => {
      // AltGr only chooses which letter a key writes; some systems report it as Ctrl and Alt together.
      const held = !event.getModifierState("AltGraph") && (event.ctrlKey || event.altKey);
      if (held || event.metaKey || event.defaultPrevented || isTyping(event.target)) return;
      const inDialog = event.target instanceof HTMLElement && event.target.closest("[role=dialog]");
      if (inDialog) return;
      const pair = event.timeStamp - since < 1200 ? `${first} ${event.key}` : "";
      const action = latest.current[pair] ?? latest.current[event.key];
      first = event.key;
      since = event.timeStamp;
      if (action) {
        event.preventDefault();
        action(event);
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, [active]);
}
