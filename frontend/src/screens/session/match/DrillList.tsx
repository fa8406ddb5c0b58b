import { useState } from "react";
import type { GameLike } from "../../../api/client";
import * as say from "../../../frame/numbers";
import { colour } from "../../../theme/tokens";

/** The squad's drills by their name, those most like the game first. */
export function DrillList({ drills }: { drills: GameLike["drills"] }) {
  const [wanted, setWanted] = useState("");
  const found = drills.filter((one) => one.name.toLowerCase().includes(wanted.trim().toLowerCase()));
  return (
    <section className="drill-list">
      <h2>
        Drills <span>most like the game first</span>
      </h2>
      {drills.length > 5 && (
        <input
          type="search"
          aria-label="Find a drill"
          placeholder="Find a drill"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
        />
      )}
      <table>
        <thead>
          <tr>
            <th scope="col">part of a session</th>
            <th scope="col">done</th>
            <th scope="col">m a min</th>
            <th scope="col">fast</th>
            <th scope="col">like the game, %</th>
          </tr>
        </thead>
        <tbody>
          {found.map((one) => (
            <tr key={one.name} title={`${one.people} recordings`}>
              <th scope="row">{one.here ? <b>{one.name}</b> : one.name}</th>
              <td className="figure">{one.times}</td>
              <td className="figure">{say.load(one.metres)}</td>
              <td className="figure">{say.short(one.fast)}</td>
              <td>
                <span className="figure">{one.like === null ? "–" : Math.round(one.like * 100)}</span>
                <svg width="64" height="10" aria-hidden="true">
                  <rect width={(one.like ?? 0) * 62} y="1" height="8" fill={colour.kelp} />
                  <path d="M63 0V10" stroke={colour.ink} strokeWidth="1.2" />
                </svg>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {found.length === 0 && <p className="quiet small">No drill is called so.</p>}
    </section>
  );
}
