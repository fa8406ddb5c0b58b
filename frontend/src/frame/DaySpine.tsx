import { useQuery } from "@tanstack/react-query";
import { Link, useLocation } from "react-router";
import type { SpineDay } from "../api/client";
import { spineQuery } from "../api/queries/frame";
import { SessionGlyph } from "../charts/SessionGlyph";
import { longDay, plusDays, shortDay } from "./days";
import type { Place } from "./place";

const DAYS = 21;

/** Three weeks of days around the chosen one. Picking a day shows every screen as it stood that day. */
export function DaySpine({ place }: { place: Place }) {
  const { pathname } = useLocation();
  const spine = useQuery(spineQuery(place.squad.slug, place.day));
  const days = spine.data?.days ?? emptyDays(place.day);
  return (
    <nav aria-label="Days">
      <ol className="spine">
        {days.map((day) => {
          const match = day.sessions.find((session) => session.kind === "match");
          return (
            <li key={day.day}>
              <Link
                to={place.to(pathname, { day: day.day, athlete: place.get("athlete") })}
                className={match ? "match" : undefined}
                aria-current={day.day === place.day ? "date" : undefined}
                aria-label={describe(day)}
              >
                {shortDay(day.day)}
                {match?.opponent && <span className="opponent">{match.opponent}</span>}
                <svg
                  width="52"
                  height="24"
                  viewBox="0 0 52 24"
                  aria-hidden="true"
                  style={{ display: "block" }}
                >
                  {day.sessions.map((session, i) => (
                    <SessionGlyph key={session.id} session={session} y={match?.opponent ? 6 : 7 + i * 8} />
                  ))}
                </svg>
                {day.day === place.squad.today && day.day !== place.day && (
                  <span className="today">today</span>
                )}
                {day.offset !== null && <span className="offset">{offsetText(day.offset)}</span>}
              </Link>
            </li>
          );
        })}
      </ol>
    </nav>
  );
}

function emptyDays(around: string): SpineDay[] {
  return Array.from({ length: DAYS }, (_, i) => ({
    day: plusDays(around, i - (DAYS - 1) / 2),
    offset: null,
    sessions: [],
  }));
}

function offsetText(offset: number): string {
  if (offset === 0) return "M";
  return offset > 0 ? `M+${offset}` : `M−${-offset}`;
}

function describe(day: SpineDay): string {
  const sessions = day.sessions.map((session) => {
    const what = session.opponent ? `match against ${session.opponent}, ${session.venue}` : session.title;
    const state = session.done ? "" : ", planned";
    return `${what} ${session.minutes} min${state}${session.unrated ? `, ${session.unrated} ratings missing` : ""}`;
  });
  return [longDay(day.day), ...(sessions.length ? sessions : ["no session"])].join("; ");
}
