/** Reads that still answer without a network: with the copy of what was read last. */

import { Problem } from "../api/client";
import { copyOf, keepCopy } from "./store";

export async function withCopy<T>(key: string, read: () => Promise<T>): Promise<T> {
  try {
    const fresh = await read();
    // Where nothing can be kept, the screen works all the same.
    keepCopy(key, fresh).catch(() => {});
    return fresh;
  } catch (error) {
    if (!(error instanceof Problem) || error.status !== 0) throw error;
    const copy = await copyOf<T>(key).catch(() => undefined);
    if (copy === undefined) throw error;
    return copy;
  }
}
