import type { Waiting } from "../../offline/entries";

/** From this pain (of 10) on somebody is asked before training, until the squad says otherwise. */
const ASKS_FROM = 4;

/** Whether a report that still waits to be sent tells of something that has to be seen before training. */
export function asksFirst(item: Waiting): boolean {
  if (item.what !== "report") return false;
  const { ill, pains } = item.body;
  return Boolean(ill) || (pains ?? []).some((pain) => pain.severity >= ASKS_FROM);
}
