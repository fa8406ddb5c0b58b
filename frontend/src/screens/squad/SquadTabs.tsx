import { NavLink } from "react-router";
import type { Place } from "../../frame/place";

const TABS = [
  { path: "/squad/accounts", name: "Accounts", needs: "link_athletes" },
  { path: "/squad/people", name: "People", needs: "read_anchors" },
  { path: "/squad/units", name: "Units", needs: "read_squad" },
  { path: "/squad/forms", name: "Forms", needs: "edit_forms" },
  { path: "/squad/tests", name: "Tests", needs: "read_reports" },
  { path: "/squad/limits", name: "Limits", needs: "read_squad" },
  { path: "/squad/notices", name: "Notices", needs: "read_reports" },
  { path: "/squad/files", name: "Files", needs: "import" },
  { path: "/squad/audit", name: "Audit", needs: "read_audit" },
  { path: "/squad/new", name: "New squad", needs: "run_club" },
] as const;

/** What is set up once for a squad, side by side. */
export function SquadTabs({ place }: { place: Place }) {
  return (
    <nav aria-label="Squad" className="tabs">
      {TABS.filter((tab) => place.may(tab.needs)).map((tab) => (
        <NavLink key={tab.path} to={place.to(tab.path)}>
          {tab.name}
        </NavLink>
      ))}
    </nav>
  );
}
