import { useQuery } from "@tanstack/react-query";
import type { Season } from "../../api/client";
import { seasonQuery } from "../../api/queries/season";
import { SeasonBand } from "../../charts/SeasonBand";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { Table } from "../../kit/Table";
import { PhasesForm } from "./PhasesForm";
import { KINDS, standingText } from "./phases";
import "./season.css";

/** The season in its phases, and where the day is among them. */
export default function SeasonScreen({ place }: { place: Place }) {
  const season = useQuery(seasonQuery(place.squad.slug, place.day));
  const may = place.may("edit_entries");
  return (
    <>
      <div className="summary">
        <h1>{season.data ? <Standing season={season.data} /> : "…"}</h1>
      </div>
      <Loaded query={season} failed="The season could not be loaded">
        {(data) => (
          <div className="season">
            {data.phases.length > 0 && <SeasonBand phases={data.phases} day={place.day} />}
            {may ? (
              <PhasesForm key={data.edition} place={place} season={data} />
            ) : (
              <Phases phases={data.phases} />
            )}
          </div>
        )}
      </Loaded>
    </>
  );
}

function Standing({ season }: { season: Season }) {
  const { standing } = season;
  if (!standing) return standingText(season);
  return (
    <>
      <b>{standing.phase.name}</b>
      {standingText(season)}
    </>
  );
}

function Phases({ phases }: { phases: Season["phases"] }) {
  if (phases.length === 0)
    return <Message title="No phases yet">Performance staff say how the season goes.</Message>;
  return (
    <Table heads={["Phase", "For", "From", "To"]}>
      {phases.map((phase) => (
        <tr key={phase.first}>
          <th scope="row">{phase.name}</th>
          <td>{KINDS[phase.kind]}</td>
          <td>{mediumDay(phase.first)}</td>
          <td>{mediumDay(phase.last)}</td>
        </tr>
      ))}
    </Table>
  );
}
