import type { Planned, PlannedSession, SessionPlan } from "../../api/client";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { typedNumber } from "../../kit/fields";

export interface Typed {
  kind: Planned["kinds"][number];
  title: string;
  day: string;
  at: string;
  minutes: string;
  effort: string;
  place: string;
  opponent: string;
  venue: string;
  until: string;
}

/** What stands in the form as it opens. */
export function startOf(place: Place, planned: Planned, session: PlannedSession | undefined): Typed {
  if (session)
    return {
      ...session,
      minutes: String(session.minutes),
      effort: String(session.effort),
      place: session.place ?? "",
      opponent: session.opponent ?? "",
      venue: session.venue ?? "home",
      until: "",
    };
  const kind = planned.kinds[0] ?? "court";
  return {
    kind,
    title: "",
    day: place.day,
    at: "18:00",
    minutes: "",
    effort: "",
    place: "",
    opponent: "",
    venue: "home",
    until: "",
  };
}

/** What is typed, as it is sent. */
export function bodyOf(typed: Typed) {
  const match = typed.kind === "match" && typed.opponent.trim() !== "";
  return {
    kind: typed.kind,
    title: typed.title,
    day: typed.day,
    at: typed.at,
    minutes: typedNumber(typed.minutes),
    effort: typedNumber(typed.effort),
    place: typed.place || null,
    opponent: match ? typed.opponent : null,
    venue: match ? (typed.venue as "home" | "away") : null,
  };
}

/** The squad's places, and the one where the session is, also where that is on the list no more. */
export function placesOf(planned: Planned, typed: Typed): string[] {
  return typed.place === "" || planned.places.includes(typed.place)
    ? planned.places
    : [...planned.places, typed.place];
}

/** Minutes and the place they were said for, before another place was chosen. */
export interface Said {
  place: string;
  minutes: string;
}

/** The minutes that come to the same load in the place that is typed; null where they are the same, or none are. */
export function asMuch(planned: Planned, said: Said, typed: Typed): number | null {
  const factor = (place: string) => planned.place_factors[place] ?? 1;
  const minutes = typedNumber(said.minutes);
  const same = Math.round((minutes * factor(said.place)) / factor(typed.place));
  return same > 0 && same !== minutes && typed.minutes === said.minutes ? same : null;
}

export function wrongIn(typed: Typed): Partial<Record<string, string | false>> {
  const effort = typedNumber(typed.effort);
  const minutes = typedNumber(typed.minutes);
  return {
    title: typed.kind !== "match" && !typed.title.trim() && "A session has a title.",
    day: !typed.day && "Say on which day.",
    at: !/^\d\d:\d\d$/.test(typed.at) && "A time such as 18:30.",
    minutes: !(minutes >= 1 && minutes <= 600) && "1 to 600 minutes.",
    effort: !(effort >= 0 && effort <= 10) && "0 to 10.",
    until: typed.until !== "" && typed.until < typed.day && "The last week is before the first.",
  };
}

/** What was made, in a sentence. */
export function madeText(made: SessionPlan[]): string {
  if (made.length === 1) return "The session is made.";
  return `${made.length} sessions are made, until ${mediumDay(made.at(-1)?.day ?? "")}.`;
}
