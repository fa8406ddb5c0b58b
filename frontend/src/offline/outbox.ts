/**
 * Sends what waits: one at a time, in order, once each.
 *
 * Every request can be sent twice and counts once, so that one whose answer was lost is simply sent again. A refusal
 * stays, with its reason, until someone has seen it. Of several open tabs one sends.
 */

import { useEffect, useSyncExternalStore } from "react";
import { Problem } from "../api/client";
import { deliver, type Sendable, VERSION, type Waiting } from "./entries";
import { addWaiting, takeWaiting, waiting } from "./store";

const AGAIN_MS = 4000;

let items: Waiting[] = [];
let busy = false;
let again: ReturnType<typeof setTimeout> | undefined;
let who: number | null = null;
const listeners = new Set<() => void>();
const done = new Set<(item: Waiting, answer: unknown) => void>();
/** Keys that begin with one of these are being worked on by a screen, which sends them itself. */
const claimed = new Set<string>();

async function renew() {
  items = (await waiting()).filter((item) => item.user === who);
  for (const listener of listeners) listener();
}

/** Keep something to be sent, and send it now if that can be done. */
export async function enqueue(item: Sendable & { key: string; label: string }) {
  if (who === null) return;
  await addWaiting({ ...item, user: who, version: VERSION });
  await renew();
  void flush();
}

export async function dismiss(key: string) {
  await takeWaiting(key);
  await renew();
}

export async function flush() {
  if (busy || who === null) return;
  busy = true;
  clearTimeout(again);
  try {
    await alone(sendAll);
  } finally {
    busy = false;
    await renew();
  }
  const left = items.some((item) => !item.refused && !isClaimed(item.key));
  if (left) again = setTimeout(() => void flush(), AGAIN_MS);
}

async function sendAll() {
  for (const item of await waiting()) {
    if (item.user !== who || item.refused || isClaimed(item.key)) continue;
    try {
      const answer = await deliver(item);
      // Changed while it was on its way: the newer one goes next.
      const now = (await waiting()).find((other) => other.key === item.key);
      if (now && JSON.stringify(now.body) !== JSON.stringify(item.body))
        await addWaiting({ ...now, body: rebased(now.body, answer) } as Waiting);
      else await takeWaiting(item.key);
      for (const tell of done) tell(item, answer);
      await renew();
    } catch (error) {
      const problem = error instanceof Problem ? error : new Problem(0, String(error));
      // No network, no sign-in or a server in trouble: everything keeps waiting, in its order.
      if (problem.status === 0 || problem.status === 401 || problem.status === 429 || problem.status >= 500)
        return;
      await addWaiting({ ...item, refused: problem.message });
      await renew();
    }
  }
}

interface Versioned {
  athlete_id: number;
  what?: string;
  version?: number | null;
}

/** A body's changes on the versions that an answer tells, so that they follow on what has just been saved. */
export function rebased(body: object, answer: unknown): object {
  const rows = (answer as { rows?: (Versioned & { works?: Versioned[] })[] } | null)?.rows;
  if (!rows || !("changes" in body) || !Array.isArray(body.changes)) return body;
  const changes = (body.changes as Versioned[]).map((change) => {
    const row = rows.find((one) => one.athlete_id === change.athlete_id);
    const saved = change.what ? row?.works?.find((work) => work.what === change.what) : row;
    return { ...change, version: saved?.version ?? null };
  });
  return { ...body, changes };
}

export const isWaiting = (key: string) => items.some((item) => item.key === key);

/** Runs in one tab at a time, where the browser can tell. */
async function alone(run: () => Promise<void>) {
  if (navigator.locks) await navigator.locks.request("uvren-outbox", run);
  else await run();
}

const isClaimed = (key: string) => [...claimed].some((prefix) => key.startsWith(prefix));

/** While a screen shows what these keys belong to it sends them itself. Returns how to end that. */
export function claim(prefix: string): () => void {
  claimed.add(prefix);
  return () => {
    claimed.delete(prefix);
    void flush();
  };
}

/** What waits to be sent for the signed-in person. */
export function useOutbox(): Waiting[] {
  return useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => items,
  );
}

/** Starts sending for a person; `onDone` learns of everything that has arrived. */
export function useSending(user: number, onDone: (item: Waiting, answer: unknown) => void) {
  useEffect(() => {
    who = user;
    done.add(onDone);
    const go = () => void flush();
    void renew().then(go);
    window.addEventListener("online", go);
    document.addEventListener("visibilitychange", go);
    return () => {
      done.delete(onDone);
      window.removeEventListener("online", go);
      document.removeEventListener("visibilitychange", go);
    };
  }, [user, onDone]);
}
