import { NavLink } from "react-router";
import type { Place } from "../../frame/place";

/** The sides of sessions: who did what in one, all of them in a calendar, and everybody by figure. */
export function SessionPlaces({ place }: { place: Place }) {
  return (
    <nav aria-label="Session" className="tabs">
      <NavLink to={place.to("/session")} end>
        Entries
      </NavLink>
      <NavLink to={place.to("/session/calendar")}>Calendar</NavLink>
      <NavLink to={place.to("/session/everybody")}>Everybody by figure</NavLink>
    </nav>
  );
}
