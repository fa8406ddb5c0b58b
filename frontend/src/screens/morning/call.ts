/** A call before it is made: what was typed, and what is sent of it. */

import { ulid } from "ulid";
import type { CallBody, CallItem, CallKind, Lane } from "../../api/client";
import { plusDays } from "../../frame/days";
import * as say from "../../frame/numbers";
import { typedNumber } from "../../kit/fields";

/** A call as typed; the numbers are still text. */
export interface Draft {
  kind: CallKind;
  reason: string;
  review: string;
  minutes: string;
  /** Effort at most. */
  cap: string;
  content: string;
}

type How = Pick<Draft, "minutes" | "cap" | "content">;

const NO_CHANGE: How = { minutes: "", cap: "", content: "" };

/** A draft for another kind of call: reason and review date stay, how the day is adapted begins anew. */
export function drafted(
  kind: CallKind,
  day: string,
  before: Draft | undefined,
  /** Whose day is adapted; null for several at once. */
  lane: Lane | null,
): Draft {
  const how = kind === "adapt" && lane ? fitting(lane) : NO_CHANGE;
  return { reason: "", review: plusDays(day, 1), ...before, ...how, kind };
}

/**
 * Minutes that fit the room at the effort that is planned, rounded down to 5; with what the room on other kinds of work
 * leaves of them. What a clinician leaves out stands everywhere anyway.
 */
export function fitting(lane: Lane): How {
  const less = lane.others
    .filter((other) => other.room.load !== null && other.room.plan > other.room.load + 0.5)
    .map((other) =>
      (other.room.load ?? 0) < 1
        ? `no ${other.name.toLowerCase()}`
        : `${other.name.toLowerCase()} at most ${say.room(other.room.load ?? 0)}`,
    );
  const content = less.join(", ");
  if (lane.leaves === null || lane.minutes <= 0 || lane.room.written <= 0) return { ...NO_CHANGE, content };
  const rate = lane.room.written / lane.minutes;
  const minutes = Math.min(lane.minutes, Math.floor(lane.leaves / rate / 5) * 5);
  return { minutes: String(minutes), cap: "", content };
}

/** Load of the day as it is adapted, or null where it cannot be told yet. */
export function adaptedLoad(draft: Draft, lane: Lane): number | null {
  const minutes = typedNumber(draft.minutes);
  const cap = typedNumber(draft.cap);
  const rate = lane.minutes > 0 ? lane.room.written / lane.minutes : lane.effort;
  const load = minutes * Math.min(rate, Number.isNaN(cap) ? 10 : cap);
  return Number.isNaN(load) ? null : load;
}

const numberOrNull = (text: string) => {
  const value = typedNumber(text);
  return Number.isNaN(value) ? null : value;
};

/** How a day is adapted, in numbers; nothing of it for other calls. */
const sent = (draft: Draft) => ({
  minutes: numberOrNull(draft.minutes),
  effort_cap: numberOrNull(draft.cap),
  content: draft.content || null,
});

export interface Asked {
  draft: Draft;
  /** Stands although it is above room. */
  sure: boolean;
  /** The call of someone else that is to give way. */
  replaces?: string | undefined;
}

/** What is sent for one athlete. */
export function bodyOf({ draft, sure, replaces }: Asked, lane: Lane, day: string): CallBody {
  return {
    id: ulid(),
    athlete_id: lane.athlete_id,
    day,
    kind: draft.kind,
    reason: draft.reason,
    review_on: draft.review || null,
    ...sent(draft),
    replaces: replaces ?? lane.call?.id ?? null,
    sure,
  };
}

/** The call as the lane shows it until the server has answered. */
export function awaited(draft: Draft, now: Date): CallItem {
  return {
    id: "",
    kind: draft.kind,
    reason: draft.reason,
    review_on: draft.review || null,
    ...sent(draft),
    above_room: false,
    reply: null,
    made_by: "saving …",
    made_at: now.toISOString(),
  };
}
