import { useCallback, useEffect, useRef, useState } from "react";
import { ulid } from "ulid";
import { api, ask, Problem } from "../../api/client";
import { clubNow } from "../../offline/clock";
import { bluetooth, listen, type Strap } from "./strap";

const EVERY_MS = 1000;
/** As many samples as one piece may have: what waits longer goes in several. */
const MOST = 600;

interface Beat {
  at: number;
  bpm: number;
}

/** Reads a strap and sends what it tells each second; without a network it is kept and sent later. */
export function useStrap(slug: string, session: string) {
  const [strap, setStrap] = useState<Strap | null>(null);
  const [bpm, setBpm] = useState<number | null>(null);
  const [said, setSaid] = useState("");
  const waiting = useRef<Beat[]>([]);
  const piece = useRef<{ number: number; beats: Beat[] } | null>(null);
  const sending = useRef(false);
  const device = useRef("");
  const who = useRef(0);

  const send = useCallback(async () => {
    if (sending.current) return;
    // A piece keeps its number until it has arrived: sent twice it is kept once.
    if (!piece.current && waiting.current.length > 0)
      piece.current = { number: Math.round(clubNow().getTime()), beats: waiting.current.splice(0, MOST) };
    const one = piece.current;
    const first = one?.beats[0];
    if (!one || !first) return;
    sending.current = true;
    try {
      await ask(
        api.POST("/api/squads/{slug}/sessions/{session_id}/live/strap", {
          params: { path: { slug, session_id: session } },
          body: {
            athlete_id: who.current,
            device: device.current,
            number: one.number,
            at: new Date(first.at).toISOString(),
            t: one.beats.map((beat) => (beat.at - first.at) / 1000),
            value: one.beats.map((beat) => beat.bpm),
          },
        }),
      );
      piece.current = null;
      setSaid("");
    } catch (problem) {
      const refused = problem instanceof Problem && problem.status >= 400 && problem.status < 500;
      if (refused) piece.current = null;
      setSaid(refused ? problem.message : "No network: what the strap tells is kept here and sent later.");
    } finally {
      sending.current = false;
    }
  }, [slug, session]);

  useEffect(() => {
    if (!strap) return;
    const timer = setInterval(() => void send(), EVERY_MS);
    return () => clearInterval(timer);
  }, [strap, send]);
  useEffect(() => () => strap?.stop(), [strap]);

  const start = async (athlete: number) => {
    const from = bluetooth();
    if (!from) return;
    who.current = athlete;
    device.current = `strap here ${ulid().slice(-8)}`;
    try {
      const made = await listen(
        from,
        (heard) => {
          setBpm(heard);
          if (heard !== null) waiting.current.push({ at: clubNow().getTime(), bpm: heard });
        },
        () => {
          setStrap(null);
          setBpm(null);
          setSaid("The strap is out of reach. Read it again when it is near.");
        },
      );
      setSaid("");
      setStrap(made);
    } catch (problem) {
      // Whoever closes the browser's list has chosen none: that is no fault.
      const none = problem instanceof DOMException && problem.name === "NotFoundError";
      setSaid(none ? "" : problem instanceof Error ? problem.message : "This strap cannot be read.");
    }
  };
  const stop = () => {
    void send();
    setStrap(null);
    setBpm(null);
  };
  return { strap, bpm, said, start, stop };
}
