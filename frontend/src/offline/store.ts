/** What this browser keeps for times without a network: copies of what was read last, and what is still to be sent. */

import { type DBSchema, type IDBPDatabase, openDB } from "idb";
import { upToDate, type Waiting } from "./entries";

interface Shape extends DBSchema {
  copies: { key: string; value: { value: unknown; at: number } };
  waiting: { key: number; value: Waiting; indexes: { key: string } };
}

let opened: Promise<IDBPDatabase<Shape>> | null = null;

function database() {
  opened ??= openDB<Shape>("uvren", 1, {
    upgrade(db) {
      db.createObjectStore("copies");
      db.createObjectStore("waiting", { keyPath: "turn", autoIncrement: true }).createIndex("key", "key");
    },
  });
  return opened;
}

export async function keepCopy(key: string, value: unknown) {
  await (await database()).put("copies", { value, at: Date.now() }, key);
}

export async function copyOf<T>(key: string): Promise<T | undefined> {
  return (await (await database()).get("copies", key))?.value as T | undefined;
}

export async function dropCopy(key: string) {
  await (await database()).delete("copies", key);
}

/** Everything that waits, in its order. */
export async function waiting(): Promise<Waiting[]> {
  return (await (await database()).getAll("waiting")).map(upToDate);
}

export async function addWaiting(item: Waiting) {
  const write = (await database()).transaction("waiting", "readwrite");
  const before = await write.store.index("key").get(item.key);
  await write.store.put(before?.turn === undefined ? item : { ...item, turn: before.turn });
  await write.done;
}

export async function takeWaiting(key: string) {
  const write = (await database()).transaction("waiting", "readwrite");
  const turn = await write.store.index("key").getKey(key);
  if (turn !== undefined) await write.store.delete(turn);
  await write.done;
}

/** What is kept belongs to one person: somebody else's sign-in begins with nothing. What waits to be sent stays theirs. */
export async function keepFor(user: number) {
  const db = await database();
  const whose = (await db.get("copies", "whose"))?.value;
  if (whose === user) return;
  await db.clear("copies");
  await db.put("copies", { value: user, at: Date.now() }, "whose");
}

/** On signing out nothing of anybody stays in this browser. */
export async function forgetAll() {
  const db = await database();
  await Promise.all([db.clear("copies"), db.clear("waiting")]);
}
