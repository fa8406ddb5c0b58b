import { useQuery } from "@tanstack/react-query";
import type { Heat } from "../../../api/client";
import { heatQuery } from "../../../api/queries/session";
import { mediumDay } from "../../../frame/days";
import { Message } from "../../../frame/Message";
import type { Place } from "../../../frame/place";
import { Select } from "../../../kit/fields";
import { Loaded } from "../../../kit/Loaded";
import { SessionPlaces } from "../SessionPlaces";
import { HeatTable } from "./HeatTable";
import type { By } from "./heat";
import "./heat.css";

const BY: [By, string][] = [
  ["percent", "in per cent of a match"],
  ["z", "against what is usual for each"],
  ["amount", "as it was measured"],
];

/** Squad by figure: the last session and the week of everybody on one look. */
export default function HeatScreen({ place }: { place: Place }) {
  const query = useQuery(heatQuery(place.squad.slug, place.day));
  const by = BY.find(([code]) => code === place.get("by"))?.[0] ?? "percent";
  return (
    <>
      <SessionPlaces place={place} />
      <div className="summary">
        <h1>
          <b>Everybody by figure</b>, {mediumDay(place.day)}
        </h1>
        <div className="summary-end">
          <span style={{ width: 250 }}>
            <Select
              size="xs"
              label="Sorted"
              value={by}
              onChange={(code) => place.set({ by: code === "percent" ? null : code }, true)}
            >
              {BY.map(([code, said]) => (
                <option key={code} value={code}>
                  {said}
                </option>
              ))}
            </Select>
          </span>
        </div>
      </div>
      <Loaded query={query} failed="The figures could not be loaded">
        {(heat) => (heat.session ? <Shown place={place} heat={heat} by={by} /> : <None />)}
      </Loaded>
    </>
  );
}

function Shown({ place, heat, by }: { place: Place; heat: Heat; by: By }) {
  return (
    <div className="heat">
      <HeatTable place={place} heat={heat} by={by} />
      <p className="heat-key">
        <i className="heat-2" /> 2 own spreads and more above what is usual <i className="heat-1" /> 1 and
        more <i className="heat--1" /> 1 and more below <i className="heat--2" /> 2 and more. Unusual is
        neither good nor bad. A session is held against the own ones of its kind, seven days against the own
        sevens before them, from six on; ≈ has an estimate in it.
      </p>
    </div>
  );
}

const None = () => (
  <Message title="No session has been done yet">
    Once somebody’s minutes and rating are in, everybody stands here by figure.
  </Message>
);
