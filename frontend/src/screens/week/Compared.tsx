import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { ComparedWeek } from "../../api/client";
import { comparedQuery } from "../../api/queries/week";
import { dayAndMonth } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";

/** What was planned against what was done: four weeks of the squad, and the last one person by person. */
export function Compared({ place }: { place: Place }) {
  const { data } = useQuery(comparedQuery(place.squad.slug, place.day));
  if (!data) return null;
  return (
    <details className="week-compared">
      <summary>
        {data.said} <span className="quiet">Planned and done, four weeks and person by person</span>
      </summary>
      <table>
        <thead>
          <tr>
            <th scope="col">A person, the week to</th>
            <Heads />
          </tr>
        </thead>
        <tbody>
          {data.weeks.map((week) => (
            <tr key={week.last}>
              <th scope="row">{dayAndMonth(week.last)}</th>
              <Figures week={week} />
            </tr>
          ))}
        </tbody>
        <thead>
          <tr>
            <th scope="col">The last week, furthest from plan first</th>
            <Heads />
          </tr>
        </thead>
        <tbody>
          {data.people.map((one) => (
            <tr key={one.athlete_id}>
              <th scope="row">
                <Link to={place.to("/athlete", { athlete: String(one.athlete_id) })}>{one.name}</Link>
              </th>
              <Figures week={one.week} />
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  );
}

const HEADS = ["Planned", "Done", "Of plan", "Minutes", "Spread", "Week strain"];

const Heads = () =>
  HEADS.map((name) => (
    <th key={name} scope="col">
      {name}
    </th>
  ));

function Figures({ week }: { week: ComparedWeek }) {
  const share = week.done === null || week.planned <= 0 ? null : week.done / week.planned;
  const off = share !== null && Math.abs(share - 1) > 0.25;
  return (
    <>
      <td>{say.load(week.planned)}</td>
      <td>{week.done === null ? "a rating is missing" : say.load(week.done)}</td>
      <td className={off ? "off" : undefined}>{share === null ? "" : `${Math.round(share * 100)} %`}</td>
      <td>
        {say.load(week.minutes_done)} of {say.load(week.minutes_planned)}
      </td>
      <td>{week.spread === null ? "" : week.spread.toFixed(1)}</td>
      <td>{week.strain === null ? "" : say.load(week.strain)}</td>
    </>
  );
}
