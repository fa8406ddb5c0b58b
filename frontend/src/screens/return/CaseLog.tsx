import { useQuery } from "@tanstack/react-query";
import type { Cases } from "../../api/client";
import { casesQuery } from "../../api/queries/return";
import { dayAndMonth } from "../../frame/days";
import { load, short } from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { oftenSaid } from "./returnStates";

/** Injuries and illnesses of a year, what they cost, and how often they come by exposure. For clinicians. */
export function CaseLog({ place }: { place: Place }) {
  const cases = useQuery(casesQuery(place.squad.slug, place.day));
  return (
    <>
      <h2>Injuries and illnesses</h2>
      <Loaded query={cases} failed="The log could not be loaded">
        {(data) => <Log place={place} cases={data} />}
      </Loaded>
      <p>
        <button type="button" className="text-button" onClick={() => place.set({ begin: null })}>
          Close
        </button>
      </p>
    </>
  );
}

function Log({ place, cases }: { place: Place; cases: Cases }) {
  return (
    <>
      <p className="quiet">
        From {dayAndMonth(cases.first)} a year to {dayAndMonth(cases.last)}: {load(cases.training_hours)} h of
        training, {load(cases.match_hours)} h of matches, everybody together.
      </p>
      <p>
        <b>Injuries:</b> {oftenSaid(cases.injuries)}
        <br />
        <b>Illnesses:</b> {oftenSaid(cases.illnesses)}
      </p>
      {cases.rows.length === 0 && <p>None in this year.</p>}
      <ul className="return-sheet">
        {cases.rows.map((one) => (
          <li key={one.plan_id}>
            <button
              type="button"
              className="text-button plain"
              onClick={() => place.set({ begin: null, plan: one.plan_id })}
            >
              {one.name}
            </button>{" "}
            <span className="plum">{one.what}</span>
            {one.again && ", again within a year"}
            <br />
            <span className="quiet">
              {[
                dayAndMonth(one.first_day),
                one.onset,
                one.mechanism,
                `${short(one.out)} days out`,
                one.part > 0 && `${short(one.part)} on the way back`,
                one.lasts && "lasts",
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}
