import { useState } from "react";
import type { Drill } from "../../../api/client";
import * as say from "../../../frame/numbers";
import { DrillRow } from "./DrillRow";
import "./drills.css";

interface Props {
  drills: Drill[];
  /** Names of the parts of the session that is looked at. */
  here?: string[];
  /** A minute of a match, to hold a minute of a drill against. */
  match?: Drill["running"];
  /** What is done with a drill, where something can be. */
  onPut?: (drill: Drill) => void;
  /** Under a heading of its own. */
  headed?: boolean;
}

/** The squad's drills by their name, those most like the game first; each opens to what is known of it. */
export function DrillList({ drills, here = [], match = null, onPut, headed = true }: Props) {
  const [wanted, setWanted] = useState("");
  const words = wanted.toLowerCase().split(/\s+/).filter(Boolean);
  const found = drills.filter((one) => words.every((word) => one.name.toLowerCase().includes(word)));
  return (
    <section className="drill-list">
      {headed ? (
        <h2>
          Drills <span>a minute of each, most like the game first</span>
        </h2>
      ) : (
        <p className="quiet">A minute of each, most like the game first.</p>
      )}
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
            <th scope="col">load</th>
            <th scope="col">m</th>
            <th scope="col">fast</th>
            <th scope="col">like, %</th>
            {onPut && <th scope="col" />}
          </tr>
        </thead>
        <tbody>
          {match && wanted === "" && (
            <tr className="quiet">
              <th scope="row">a match</th>
              <td />
              <td className="figure">{say.load(match.metres)}</td>
              <td className="figure">{say.short(match.fast)}</td>
              <td />
              {onPut && <td />}
            </tr>
          )}
          {found.map((one) => (
            <DrillRow key={one.name} drill={one} here={here.includes(one.name)} onPut={onPut} />
          ))}
        </tbody>
      </table>
      {found.length === 0 && <p className="quiet small">No drill is called so.</p>}
    </section>
  );
}
