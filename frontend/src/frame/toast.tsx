/**
 * One line at the foot of the screen, most often with a way to undo what was just done.
 *
 * Ours, and not the component library's: that one stacks lines, and only what was done last is undone from here.
 */

import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useState } from "react";

interface Line {
  text: string;
  undo?: () => void;
}

const Say = createContext<(text: string, undo?: () => void) => void>(() => {});

export const useToast = () => useContext(Say);

const STAYS_MS = 9000;

export function ToastPlace({ children }: { children: ReactNode }) {
  const [line, setLine] = useState<Line | null>(null);
  useEffect(() => {
    if (!line) return;
    const timer = setTimeout(() => setLine(null), STAYS_MS);
    return () => clearTimeout(timer);
  }, [line]);
  const say = useCallback((text: string, undo?: () => void) => setLine({ text, undo }), []);
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
          <div className="toast">
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
