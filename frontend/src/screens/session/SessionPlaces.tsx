import { NavLink } from "react-router";
import type { Place } from "../../frame/place";

/** The two sides of sessions: who did what in one, and all of them in a calendar. */
export function SessionPlaces({ place }: { place: Place }) {
  return (
    <nav aria-label="Session" className="tabs">
      <NavLink to={place.to("/session")} end>
        Entries
      </NavLink>
      <NavLink to={place.to("/session/calendar")}>Calendar</NavLink>
    </nav>
  );
}
