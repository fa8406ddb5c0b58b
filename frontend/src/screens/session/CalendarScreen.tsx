import { useQuery } from "@tanstack/react-query";
import type { Planned, PlannedSession } from "../../api/client";
import { seasonQuery } from "../../api/queries/season";
import { plannedQuery } from "../../api/queries/session";
import { monthName } from "../../frame/days";
import { useKeys } from "../../frame/keys";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { Beside } from "../../kit/Panel";
import { CalledOff, CallOff } from "./CallOff";
import { CopyWeek } from "./CopyWeek";
import { DayMarks } from "./DayMarks";
import { Month } from "./Month";
import { monthDays, otherMonth } from "./month";
import { SessionForm } from "./SessionForm";
import { SessionPlaces } from "./SessionPlaces";
import "./session.css";
import "./calendar.css";

const NEW = "new";

/** A month of sessions; one that is picked is changed beside it, and a day that is picked gets another one. */
export default function CalendarScreen({ place }: { place: Place }) {
  const days = monthDays(place.day);
  const planned = useQuery(plannedQuery(place.squad.slug, days[0] ?? place.day, days.length));
  const phase = useQuery(seasonQuery(place.squad.slug, place.day)).data?.standing;
  const may = place.may("edit_entries");
  const asked = place.get("session");
  const begin = (day: string) => may && place.set({ session: NEW, day });
  useKeys({ n: () => begin(place.day), Escape: () => place.set({ session: null }, true) });
  const chosen = planned.data?.sessions.find((one) => one.id === asked);
  const close = () => place.set({ session: null }, true);
  return (
    <>
      <SessionPlaces place={place} />
      <div className="summary">
        <h1>
          <b>{monthName(place.day)}</b>, {countText(planned.data, place.day)}
          {phase && (
            <span className="quiet">
              {" "}
              · {phase.phase.name}, week {phase.week} of {phase.weeks}
            </span>
          )}
        </h1>
        <div className="summary-end">
          <button
            type="button"
            className="text-button"
            onClick={() => place.set({ day: otherMonth(place.day, -1) })}
          >
            Month before
          </button>
          <button
            type="button"
            className="text-button"
            onClick={() => place.set({ day: otherMonth(place.day, 1) })}
          >
            Month after
          </button>
          {may && (
            <button type="button" className="text-button" onClick={() => begin(place.day)}>
              New session <kbd>n</kbd>
            </button>
          )}
        </div>
      </div>
      <Beside
        label="A session"
        open={asked !== null}
        panel={
          planned.data && (
            <Side
              key={`${asked} ${asked === NEW ? place.day : ""}`}
              place={place}
              planned={planned.data}
              session={chosen}
              isNew={asked === NEW}
              onLeave={close}
            />
          )
        }
      >
        <Loaded query={planned} failed="The sessions could not be loaded">
          {(data) => <Month place={place} days={days} planned={data} asked={asked} onDay={begin} />}
        </Loaded>
      </Beside>
    </>
  );
}

interface SideProps {
  place: Place;
  planned: Planned;
  session: PlannedSession | undefined;
  isNew: boolean;
  onLeave: () => void;
}

/** Beside the month: the session that is picked, a new one, or what can be done with the day and its week. */
function Side({ place, planned, session, isNew, onLeave }: SideProps) {
  const may = place.may("edit_entries");
  if (!may) return <p className="quiet">Sessions are made by performance staff.</p>;
  if (session?.called_off) return <CalledOff place={place} session={session} />;
  if (isNew || session)
    return (
      <>
        <SessionForm place={place} planned={planned} session={session} onLeave={onLeave} />
        {isNew && <DayMarks place={place} planned={planned} />}
        {session && !session.done && <CallOff place={place} session={session} onDone={onLeave} />}
      </>
    );
  return (
    <>
      <p className="quiet">
        Pick a session to change it, or a day for another one. Drag a session to another day, or move it with
        Alt and the arrows.
      </p>
      <DayMarks key={`marks ${place.day}`} place={place} planned={planned} />
      <CopyWeek key={place.day} place={place} />
    </>
  );
}

function countText(planned: Planned | undefined, day: string): string {
  const count = planned?.sessions.filter(
    (one) => one.day.startsWith(day.slice(0, 7)) && !one.called_off,
  ).length;
  if (count === undefined) return "…";
  return count === 0 ? "no session yet" : count === 1 ? "1 session" : `${count} sessions`;
}
