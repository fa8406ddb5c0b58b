import { useEffect, useState } from "react";
import type { Live } from "../../api/client";

export interface Watched {
  live: Live | null;
  /** Since when nothing has come, in milliseconds of this device; null while it comes. */
  away: number | null;
  /** What the server said instead, such as that too many watch. */
  refused: string;
}

/** Watches a session: everything is told anew each second, so that a gap is caught up with by the next one. */
export function useLive(slug: string, session: string | undefined): Watched {
  const [watched, setWatched] = useState<Watched>({ live: null, away: null, refused: "" });
  useEffect(() => {
    if (!session) return;
    const path = `/api/squads/${slug}/sessions/${session}/live/stream`;
    let source: EventSource;
    let again: ReturnType<typeof setTimeout> | undefined;
    const open = () => {
      source = new EventSource(path);
      source.onmessage = (event) => setWatched({ live: JSON.parse(event.data), away: null, refused: "" });
      source.onerror = () => {
        setWatched((before) => ({ ...before, away: before.away ?? Date.now() }));
        // A refusal ends it for good: ask why, and try again in a while.
        if (source.readyState !== EventSource.CLOSED) return;
        void why(path).then((refused) => setWatched((before) => ({ ...before, refused })));
        again = setTimeout(open, 5000);
      };
    };
    open();
    return () => {
      source.close();
      clearTimeout(again);
    };
  }, [slug, session]);
  return watched;
}

async function why(path: string): Promise<string> {
  const stop = new AbortController();
  try {
    const answer = await fetch(path, { signal: stop.signal });
    return answer.ok ? "" : (((await answer.json()) as { detail?: string }).detail ?? "");
  } catch {
    return "";
  } finally {
    stop.abort();
  }
}
