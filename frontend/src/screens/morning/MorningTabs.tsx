import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import { NavLink } from "react-router";
import { reportsQuery } from "../../api/queries/reports";
import type { Place } from "../../frame/place";

/** The two sides of the morning: what there is room for, and what people said. */
export const MorningTabs = memo(function MorningTabs({ place }: { place: Place }) {
  const clinical = place.may("read_clinical");
  // Whoever sees to complaints learns of a new one wherever they are in the morning.
  const reports = useQuery({
    ...reportsQuery(place.squad.slug, place.day),
    enabled: clinical,
  });
  const unseen = clinical ? (reports.data?.unseen ?? 0) : 0;
  return (
    <nav aria-label="Morning" className="tabs">
      <NavLink to={place.to("/morning")} end>
        Desk
      </NavLink>
      <NavLink to={place.to("/morning/reports")}>
        {place.may("read_reports") ? "Reports" : "Availability"}
        {unseen > 0 && <b className="unseen"> {unseen} new</b>}
      </NavLink>
      <NavLink to={place.to("/morning/sheet")}>Sheet</NavLink>
      {place.may("read_reasons") && <NavLink to={place.to("/morning/review")}>Calls</NavLink>}
    </nav>
  );
});
