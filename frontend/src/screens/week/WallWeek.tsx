import type { Week } from "../../api/client";
import { longDay } from "../../frame/days";
import * as say from "../../frame/numbers";

/** The week as it hangs on a wall, where everybody reads it: when, what and for how long, and nothing of anybody. */
export function WallWeek({ week }: { week: Week }) {
  return (
    <section className="wall-week" aria-label="For the wall">
      <table>
        <tbody>
          {week.days.map(({ day, sessions }) => (
            <tr key={day}>
              <th scope="row">{longDay(day)}</th>
              <td>
                {sessions.length === 0 && "free"}
                {sessions.map((one) => (
                  <p key={one.id}>
                    <b>{one.at}</b> {one.kind === "match" ? `Match: ${one.title}` : one.title},{" "}
                    {say.short(one.typed)} min
                  </p>
                ))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
