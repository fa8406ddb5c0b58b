import { Link } from "react-router";
import type { Week, WeekSession } from "../../api/client";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Select } from "../../kit/fields";
import { Loaded } from "../../kit/Loaded";
import { Beside } from "../../kit/Panel";
import { AfterMatch } from "./AfterMatch";
import { Compared } from "./Compared";
import { Feeds } from "./Feeds";
import { LighterWeeks } from "./LighterWeeks";
import { Proposals } from "./Proposals";
import { Recovering } from "./Recovering";
import { Upkeep } from "./Upkeep";
import { useWeek } from "./useWeek";
import { WallWeek } from "./WallWeek";
import { WeekDrills } from "./WeekDrills";
import { WeekGrid } from "./WeekGrid";
import { WeekSpells } from "./WeekSpells";
import { NOTHING, withSession } from "./weekStates";
import "./week.css";

/** Seven days of everybody: the plan against room, and the smallest change with which it holds. */
export default function WeekScreen({ place }: { place: Place }) {
  const of = useWeek(place);
  const { week, shown, changes, setChanges, trying, wrong } = of;
  const may = place.may("plan");
  return (
    <>
      <div className="summary">
        <h1>
          {trying && <span className="quiet">Tried out: </span>}
          {of.settling
            ? "working it out …"
            : shown
              ? shown.said
              : week.isPending
                ? "…"
                : "Nobody is in this squad"}
        </h1>
        <div className="summary-end">
          {trying && (
            <button type="button" className="text-button" onClick={() => setChanges(NOTHING)}>
              Back to the plan
            </button>
          )}
          {may && (
            <>
              <Link className="text-button" to={place.to("/week/templates")}>
                Templates
              </Link>
              <Link className="text-button" to={place.to("/week/block")}>
                Plan a block of weeks
              </Link>
            </>
          )}
          {shown && <ChannelChoice place={place} week={shown} />}
        </div>
      </div>
      {wrong && (
        <p role="alert" className="over week-wrong">
          {wrong.message}
        </p>
      )}
      {shown && <WallWeek week={shown} />}
      <Loaded query={week} failed="The week could not be loaded">
        {(data) =>
          data && shown ? (
            <Beside
              label="Proposed changes"
              panel={
                <>
                  {may ? (
                    <Proposals key={data.edition} place={place} week={data} of={of} />
                  ) : (
                    <p className="quiet">The week is planned by performance staff and coaches.</p>
                  )}
                  <AfterMatch place={place} />
                  <Recovering place={place} />
                  <Upkeep place={place} />
                  <WeekSpells place={place} week={data} />
                  <LighterWeeks place={place} />
                  <WeekDrills place={place} week={data} />
                  {may && <Feeds place={place} people={data.rows} />}
                </>
              }
            >
              {data.days.every(({ sessions }) => sessions.length === 0) && (
                <p className="week-wrong">
                  Nothing is planned in these seven days:{" "}
                  <Link className="text-button" to={place.to("/session/calendar")}>
                    put sessions into the calendar
                  </Link>
                  .
                </p>
              )}
              <WeekGrid
                place={place}
                week={shown}
                planned={data}
                {...(may && {
                  onSession: (one: WeekSession, wanted: { minutes?: number; day?: string }) =>
                    setChanges(withSession(changes, one, wanted)),
                })}
              />
              <Compared place={place} />
            </Beside>
          ) : (
            <Message title="Nobody to plan for">
              Nobody is in this squad on this day. <Link to={place.to("/morning")}>Morning</Link> says what
              comes first.
            </Message>
          )
        }
      </Loaded>
    </>
  );
}

function ChannelChoice({ place, week }: { place: Place; week: Week }) {
  if (week.channels.length < 2) return null;
  return (
    <span style={{ width: 150 }}>
      <Select
        size="xs"
        label="Channel"
        value={week.channel.code}
        onChange={(code) => place.set({ channel: code === week.channels[0]?.code ? null : code }, true)}
      >
        {week.channels.map((one) => (
          <option key={one.code} value={one.code}>
            {one.name}
          </option>
        ))}
      </Select>
    </span>
  );
}
