import { useQuery } from "@tanstack/react-query";
import { arithmeticQuery } from "../../api/queries";
import { mediumDay } from "../../frame/days";
import { Select } from "../../frame/fields";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";

const FIGURES = {
  week_load: "week load",
  week_change: "change on the week before",
  ewma_chronic: "base load",
  ratio_ewma: "ratio, weighted",
  ratio_coupled: "ratio, rolling coupled",
  ratio_uncoupled: "ratio, rolling uncoupled",
  balance: "balance",
  monotony: "spread",
  strain: "week strain",
} as const;

/** A figure opened up: the steps, the days that went in with their weights, the formula and its source. */
export function Arithmetic({ place, athlete }: { place: Place; athlete: number }) {
  const figure = place.get("figure");
  const known = figure !== null && figure in FIGURES ? figure : null;
  const opened = useQuery({
    ...arithmeticQuery(place.squad.slug, place.day, athlete, known ?? ""),
    enabled: known !== null,
  });
  const data = opened.data;
  const most = Math.max(1e-9, ...(data?.days ?? []).map((day) => Math.abs(day.weight)));
  return (
    <section className="section arithmetic" aria-label="A figure opened up">
      <h2>Open a figure</h2>
      <Select
        size="xs"
        label="Figure"
        value={known ?? ""}
        onChange={(value) => place.set({ figure: value || null }, true)}
      >
        <option value="">choose a figure of {mediumDay(place.day)}</option>
        {Object.entries(FIGURES).map(([code, name]) => (
          <option key={code} value={code}>
            {name}
          </option>
        ))}
      </Select>
      {opened.isError && known && (
        <p role="alert" className="over">
          {opened.error.message}
        </p>
      )}
      {known && data && (
        <>
          {data.withheld && <p className="missing">Withheld: {data.withheld}.</p>}
          {data.steps.map((step) => (
            <p key={step} className="figure">
              {step}
            </p>
          ))}
          <p>
            {data.formula} <span className="quiet">{data.source}</span>
          </p>
          <table className="figures-table">
            <thead>
              <tr>
                <th scope="col">Day</th>
                <td>Load</td>
                <td>Weight</td>
              </tr>
            </thead>
            <tbody>
              {data.days.map((day) => (
                <tr key={day.day}>
                  <th scope="row">{mediumDay(day.day)}</th>
                  <td className="figure">{day.load === null ? "missing" : say.load(day.load)}</td>
                  <td className="weight">
                    <i style={{ width: `${(Math.abs(day.weight) / most) * 100}%` }} />
                    <span className="figure">{day.weight.toFixed(3).replace("-", "−")}</span>
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
    </section>
  );
}
