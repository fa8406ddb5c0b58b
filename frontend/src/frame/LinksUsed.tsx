import type { Account } from "../api/client";
import { mediumDay } from "./days";

/** Links to one's account that somebody made and somebody used: was it oneself? */
export function LinksUsed({ links }: { links: Account["links_used"] }) {
  if (links.length === 0) return null;
  return (
    <section aria-label="Links to your account">
      <h2>Links to your account that were used</h2>
      <ul>
        {links.map((one) => (
          <li key={one.at}>
            {mediumDay(one.at.slice(0, 10))}, made by {one.made_by}, used from {one.used_from}
          </li>
        ))}
      </ul>
      <p className="quiet">If that was not you, tell an administrator of your club.</p>
    </section>
  );
}
