import type { MatchTerms } from "../../../api/client";
import * as say from "../../../frame/numbers";

/** What matches asked, by position: in all, of a minute, and in their hardest one. */
export function WhatAMatchIs({ terms }: { terms: MatchTerms }) {
  if (terms.match.length === 0) return null;
  return (
    <details className="match-is">
      <summary>What a match is</summary>
      <table>
        <thead>
          <tr>
            <th scope="col">who played most of one</th>
            <th scope="col">parts</th>
            <th scope="col">min</th>
            {terms.figures.map((figure) => (
              <th scope="col" key={figure.code}>
                {figure.name} <span className="quiet">{figure.unit}</span>
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {terms.match.map((one) => (
            <tr key={one.position}>
              <th scope="row">{one.position || "everybody"}</th>
              <td className="figure">{one.parts}</td>
              <td className="figure">{say.load(one.minutes)}</td>
              {terms.figures.map((figure, i) => (
                <td key={figure.code}>{told(one, i)}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="quiet small">
        Mean ± standard deviation; a minute of play; the hardest minute where pods recorded it.
      </p>
    </details>
  );
}

function told(one: MatchTerms["match"][number], i: number) {
  const [load, spread, minute, peak] = [one.load[i], one.spread[i], one.a_minute[i], one.peak[i]];
  if (load == null) return <span className="quiet">not known</span>;
  const parts = [
    minute == null ? "" : `${say.short(minute)} a min`,
    peak == null ? "" : `hardest ${say.load(peak)}`,
  ];
  return (
    <>
      <span className="figure">
        {say.load(load)}
        {spread == null ? "" : ` ± ${say.load(spread)}`}
      </span>
      <small className="quiet">{parts.filter(Boolean).join(", ")}</small>
    </>
  );
}
