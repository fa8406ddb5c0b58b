import { useState } from "react";
import type { Drill } from "../../../api/client";
import { mediumDay } from "../../../frame/days";
import * as say from "../../../frame/numbers";
import { colour } from "../../../theme/tokens";

interface Props {
  drill: Drill;
  /** It is in the session that is looked at. */
  here: boolean;
  onPut: ((drill: Drill) => void) | undefined;
}

/** A drill on a line, and under it what is known of it. */
export function DrillRow({ drill, here, onPut }: Props) {
  const [open, setOpen] = useState(false);
  const { running, like } = drill;
  return (
    <>
      <tr>
        <th scope="row">
          <button
            type="button"
            className="text-button plain"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
          >
            {here ? <b>{drill.name}</b> : drill.name}
          </button>
        </th>
        <td className="figure">{drill.effort === null ? "–" : say.short(drill.effort)}</td>
        <td className="figure">{running ? say.load(running.metres) : "–"}</td>
        <td className="figure">{running ? say.short(running.fast) : "–"}</td>
        <td>
          <span className="figure">{like === null ? "–" : Math.round(like * 100)}</span>
          <svg width="44" height="10" aria-hidden="true">
            <rect width={(like ?? 0) * 42} y="1" height="8" fill={colour.kelp} />
            <path d="M43 0V10" stroke={colour.ink} strokeWidth="1.2" />
          </svg>
        </td>
        {onPut && (
          <td className="drill-put">
            <button
              type="button"
              className="text-button"
              aria-label={`Put in ${drill.name}`}
              onClick={() => onPut(drill)}
            >
              put in
            </button>
          </td>
        )}
      </tr>
      {open && (
        <tr className="drill-more">
          <td colSpan={onPut ? 6 : 5}>
            {told(drill).map((line) => (
              <div key={line}>{line}</div>
            ))}
          </td>
        </tr>
      )}
    </>
  );
}

/** How often and how long, of how many, and by position. */
export function told(drill: Drill): string[] {
  const times = drill.times === 1 ? "once" : `${drill.times} times`;
  const lines = [
    `Done ${times}, last on ${mediumDay(drill.last)}; ${say.load(drill.minutes)} min as a rule.`,
  ];
  lines.push(
    drill.effort === null
      ? "No session with it was rated."
      : `Load is the session’s rating by the part’s weight, of ${drill.rated}.`,
  );
  if (!drill.running) lines.push("No pod has recorded it.");
  for (const [position, one] of Object.entries(drill.positions))
    lines.push(
      `${position} (${one.people}): ${say.load(one.metres)} m, ${say.short(one.fast)} fast a minute`,
    );
  if (drill.counts.length > 0) {
    const each = drill.counts.map((one) => `${one.what} ${say.short(one.a_minute)}`);
    lines.push(`Counted, a minute and person: ${each.join(", ")}.`);
  }
  return lines;
}
