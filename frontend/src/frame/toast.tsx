/**
 * One line at the foot of the screen, most often with a way to undo what was just done.
 *
 * Ours, and not the component library's: that one stacks lines, and only what was done last is undone from here.
 */

import { useIsFetching } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";

interface Line {
  text: string;
  undo?: () => void;
}

const Say = createContext<(text: string, undo?: () => void) => void>(() => {});

export const useToast = () => useContext(Say);

const STAYS_MS = 10_000;

export function ToastPlace({ children }: { children: ReactNode }) {
  const [line, setLine] = useState<Line | null>(null);
  // The time to undo begins once what was done is seen, and waits for a pointer or a key that rests on the line.
  const busy = useIsFetching() > 0;
  const [seen, setSeen] = useState<Line | null>(null);
  const [held, setHeld] = useState(false);
  const ready = line !== null && seen === line && !held;
  useEffect(() => {
    if (line && !busy) setSeen(line);
  }, [line, busy]);
  useEffect(() => {
    if (!ready) return;
    const timer = setTimeout(() => setLine(null), STAYS_MS);
    return () => clearTimeout(timer);
  }, [ready]);
  const say = useCallback((text: string, undo?: () => void) => {
    setLine({ text, undo });
    setHeld(false);
  }, []);
  const undo = useMemo(() => {
    if (!line?.undo) return null;
    return () => {
      line.undo?.();
      setLine(null);
    };
  }, [line]);
  return (
    <Say.Provider value={say}>
      {children}
      <div role="status" aria-live="polite">
        {line && (
          // biome-ignore lint/a11y/noStaticElementInteractions: what is pressed is the button; the line only waits
          <div
            className="toast"
            onPointerEnter={() => setHeld(true)}
            onPointerLeave={() => setHeld(false)}
            onFocus={() => setHeld(true)}
            onBlur={() => setHeld(false)}
          >
            <span>{line.text}</span>
            {undo && (
              <button type="button" className="text-button" onClick={undo}>
                Undo
              </button>
            )}
          </div>
        )}
      </div>
    </Say.Provider>
  );
}
