import { useQuery } from "@tanstack/react-query";
import type { Planned, PlannedSession } from "../../api/client";
import { plannedQuery } from "../../api/queries";
import { longDay, monthName } from "../../frame/days";
import { useKeys } from "../../frame/keys";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { Beside } from "../../kit/Panel";
import { CopyWeek } from "./CopyWeek";
import { mondayOf, monthDays, otherMonth } from "./month";
import { SessionForm } from "./SessionForm";
import { SessionPlaces } from "./SessionPlaces";
import "./session.css";

const NEW = "new";

/** A month of sessions; one that is picked is changed beside it, and a day that is picked gets another one. */
export default function CalendarScreen({ place }: { place: Place }) {
  const days = monthDays(place.day);
  const planned = useQuery(plannedQuery(place.squad.slug, days[0] ?? place.day, days.length));
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
          planned.data && may && (asked === NEW || chosen) ? (
            <SessionForm
              key={`${asked} ${asked === NEW ? place.day : ""}`}
              place={place}
              planned={planned.data}
              session={chosen}
              onLeave={close}
            />
          ) : (
            <>
              <p className="quiet">
                {may
                  ? "Pick a session to change it, or a day for another one."
                  : "Sessions are made by performance staff."}
              </p>
              {may && <CopyWeek key={place.day} place={place} />}
            </>
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

function countText(planned: Planned | undefined, day: string): string {
  const count = planned?.sessions.filter((one) => one.day.startsWith(day.slice(0, 7))).length;
  if (count === undefined) return "…";
  return count === 0 ? "no session yet" : count === 1 ? "1 session" : `${count} sessions`;
}

const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

interface MonthProps {
  place: Place;
  days: string[];
  planned: Planned;
  asked: string | null;
  onDay: (day: string) => void;
}

export function Month({ place, days, planned, asked, onDay }: MonthProps) {
  const weeks = Array.from({ length: days.length / 7 }, (_, i) => days.slice(7 * i, 7 * i + 7));
  return (
    <table className="month">
      <thead>
        <tr>
          {WEEKDAYS.map((name) => (
            <th key={name} scope="col">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {weeks.map((week) => (
          <tr key={week[0]}>
            {week.map((day) => (
              <td
                key={day}
                className={dayClass(day, place.day)}
                aria-current={day === place.squad.today ? "date" : undefined}
              >
                {place.may("edit_entries") ? (
                  <button
                    type="button"
                    className="day"
                    aria-label={`New session on ${longDay(day)}`}
                    onClick={() => onDay(day)}
                  >
                    {Number(day.slice(8))}
                  </button>
                ) : (
                  <span className="day">{Number(day.slice(8))}</span>
                )}
                {planned.sessions
                  .filter((one) => one.day === day)
                  .map((one) => (
                    <SessionLine key={one.id} one={one} shown={one.id === asked} place={place} />
                  ))}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** The days of other months, and of the week that is looked at: it is the one that is copied. */
function dayClass(day: string, shown: string): string {
  const beside = day.slice(0, 7) === shown.slice(0, 7) ? "" : "beside";
  return mondayOf(day) === mondayOf(shown) ? `${beside} this-week` : beside;
}

function SessionLine({ one, shown, place }: { one: PlannedSession; shown: boolean; place: Place }) {
  return (
    <button
      type="button"
      className={`session-line${one.done ? " done" : ""}${one.kind === "match" ? " match" : ""}`}
      aria-pressed={shown}
      onClick={() => place.set({ session: one.id })}
    >
      <span className="at">{one.at}</span> {one.opponent ?? one.title}{" "}
      <span className="quiet">{one.minutes}′</span>
    </button>
  );
}
