import { useQuery } from "@tanstack/react-query";
import { arithmeticQuery } from "../../api/queries/athlete";
import { mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { Select } from "../../kit/fields";

const FIGURES = {
  room: "room",
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

interface ArithmeticProps {
  place: Place;
  athlete: number;
  /** The items of the daily report that can be opened, for who may read reports. */
  items: { item: string; name: string }[];
}

/** A figure opened up: the steps, the days that went in with their weights, the formula and its source. */
export function Arithmetic({ place, athlete, items }: ArithmeticProps) {
  const figure = place.get("figure");
  const ofItem = items.some((one) => `change:${one.item}` === figure);
  const known = figure !== null && (figure in FIGURES || ofItem) ? figure : null;
  const opened = useQuery({
    ...arithmeticQuery(place.squad.slug, place.day, athlete, known ?? ""),
    enabled: known !== null,
  });
  const data = opened.data;
  const most = Math.max(1e-9, ...(data?.days ?? []).map((day) => Math.abs(day.weight)));
  return (
    <section className={`section arithmetic${known ? "" : " no-print"}`} aria-label="A figure opened up">
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
        {items.length > 0 && (
          <optgroup label="Change in a report">
            {items.map((one) => (
              <option key={one.item} value={`change:${one.item}`}>
                {one.name}
              </option>
            ))}
          </optgroup>
        )}
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
                <td>{ofItem ? "Answer" : "Load"}</td>
                <td>Weight</td>
              </tr>
            </thead>
            <tbody>
              {data.days.map((day) => (
                <tr key={day.day}>
                  <th scope="row">{mediumDay(day.day)}</th>
                  <td className="figure">
                    {day.load === null ? "missing" : ofItem ? say.short(day.load) : say.load(day.load)}
                  </td>
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
