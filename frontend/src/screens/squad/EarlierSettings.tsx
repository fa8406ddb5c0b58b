import type { Notices } from "../../api/client";
import { mediumDay } from "../../frame/days";

/** How a notice was tuned before, and until when. */
export function EarlierSettings({ settings }: { settings: Notices["earlier"] }) {
  if (settings.length === 0) return null;
  return (
    <details>
      <summary>{settings.length === 1 ? "1 earlier setting" : `${settings.length} earlier settings`}</summary>
      <ul>
        {settings.map((one) => (
          <li key={one.id}>
            {one.whom}: {one.said}{" "}
            <span className="quiet">
              {one.set_by}, from {mediumDay(one.from_day)}
              {one.taken_back ? `, taken back on ${mediumDay(one.until)}` : ` until ${mediumDay(one.until)}`}
              {one.reason && `; ${one.reason}`}
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}
