import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Anchors } from "../../api/client";
import { anchorsQuery } from "../../api/queries/athlete";
import { longDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { Beside } from "../../kit/Panel";
import { AnchorForm, type Athlete, anchorText, type Meaning } from "./AnchorForm";
import { SquadTabs } from "./SquadTabs";
import "./squad.css";

/** Short heads for a wide table; the full name stands in the form. */
const HEADS: Record<Meaning["kind"], string> = {
  hr_max: "HR max",
  hr_rest: "HR rest",
  threshold_1: "Thr. 1",
  threshold_2: "Thr. 2",
  sex: "Constants",
  speed_max: "Speed max",
  body_mass: "Mass",
  dominant_side: "Side",
  experience_years: "Training",
  usual_week_load: "Usual week",
};

interface Chosen {
  athlete: Athlete;
  kind: Meaning;
}

/** Everyone in the squad with the values their work is judged by. */
export default function PeopleScreen({ place }: { place: Place }) {
  const anchors = useQuery(anchorsQuery(place.squad.slug, place.day));
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const count = anchors.data?.athletes.length;
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>{count === undefined ? "People" : `${count} people`}</b> and what their work is judged by on{" "}
          {longDay(place.day)}
        </h1>
      </div>
      <Beside
        label="Anchor"
        open={chosen !== null}
        panel={
          chosen ? (
            <AnchorForm
              key={`${chosen.athlete.athlete_id} ${chosen.kind.kind}`}
              place={place}
              {...chosen}
              standing={anchors.data && standing(anchors.data, chosen)}
              onDone={() => setChosen(null)}
            />
          ) : (
            <p className="quiet">
              Pick a value to set it. A value holds from its day on: work of the days before stays judged by
              the one before it. Load that rests on it is worked out anew from that day.
            </p>
          )
        }
      >
        <Loaded query={anchors} failed="The people could not be loaded">
          {(data) => <AnchorsTable data={data} onChosen={setChosen} />}
        </Loaded>
      </Beside>
    </>
  );
}

const standing = (data: Anchors, { athlete, kind }: Chosen) =>
  data.anchors.find((one) => one.athlete_id === athlete.athlete_id && one.kind === kind.kind);

function AnchorsTable({ data, onChosen }: { data: Anchors; onChosen: (chosen: Chosen) => void }) {
  return (
    <table className="plain-table anchors-table">
      <thead>
        <tr>
          <th scope="col">Athlete</th>
          {data.kinds.map((kind) => (
            <th scope="col" key={kind.kind} className="number" title={kind.name}>
              {HEADS[kind.kind]}
              <br />
              {kind.unit === "effort × min" ? "" : kind.unit}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {data.athletes.map((athlete) => (
          <tr key={athlete.athlete_id}>
            <th scope="row" className="row-name">
              <b>{athlete.name}</b> <span className="quiet">{athlete.position}</span>
            </th>
            {data.kinds.map((kind) => {
              const said = anchorText(standing(data, { athlete, kind }));
              return (
                <td key={kind.kind} className="anchor-cell figure">
                  <button
                    type="button"
                    aria-label={`${kind.name}, ${athlete.name}: ${said || "not known"}`}
                    onClick={() => onChosen({ athlete, kind })}
                  >
                    {said || "·"}
                  </button>
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
