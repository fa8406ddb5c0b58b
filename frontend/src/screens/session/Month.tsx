import { useEffect, useRef, useState } from "react";
import type { Planned, PlannedSession } from "../../api/client";
import { longDay, plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";
import { mondayOf } from "./month";
import { useMoveSession } from "./useMoveSession";

const WEEKDAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -7, ArrowDown: 7 };

interface MonthProps {
  place: Place;
  days: string[];
  planned: Planned;
  asked: string | null;
  onDay: (day: string) => void;
}

/** Whole weeks of a month. A session is moved by dragging it, or with Alt and the arrows. */
export function Month({ place, days, planned, asked, onDay }: MonthProps) {
  const weeks = Array.from({ length: days.length / 7 }, (_, i) => days.slice(7 * i, 7 * i + 7));
  const move = useMoveSession(place);
  const [dragged, setDragged] = useState<PlannedSession | null>(null);
  const may = place.may("edit_entries");
  const follow = useFollow(planned);
  const onMove = (session: PlannedSession, day: string) => {
    if (!may || day === session.day || move.isPending) return;
    follow.to(session.id, day);
    move.mutate({ session, day });
  };
  return (
    <table className="month" ref={follow.table}>
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
                onDragOver={(event) => dragged && event.preventDefault()}
                onDrop={(event) => {
                  event.preventDefault();
                  if (dragged) onMove(dragged, day);
                  setDragged(null);
                }}
              >
                <DayHead place={place} day={day} onDay={onDay} />
                {planned.sessions
                  .filter((one) => one.day === day)
                  .map((one) => (
                    <SessionLine
                      key={one.id}
                      one={one}
                      shown={one.id === asked}
                      place={place}
                      onDrag={may ? setDragged : undefined}
                      onMove={(to) => onMove(one, to)}
                    />
                  ))}
                <Mark planned={planned} day={day} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Keeps the focus on a session that is moved, so that the next key moves it on. */
function useFollow(planned: Planned) {
  const table = useRef<HTMLTableElement>(null);
  const going = useRef<{ id: string; day: string } | null>(null);
  useEffect(() => {
    const there = planned.sessions.find((one) => one.id === going.current?.id);
    if (!there || there.day !== going.current?.day) return;
    going.current = null;
    table.current?.querySelector<HTMLElement>(`[data-session="${there.id}"]`)?.focus();
  }, [planned]);
  const to = (id: string, day: string) => {
    going.current = { id, day };
  };
  return { table, to };
}

function DayHead({ place, day, onDay }: { place: Place; day: string; onDay: (day: string) => void }) {
  const number = Number(day.slice(8));
  if (!place.may("edit_entries")) return <span className="day">{number}</span>;
  return (
    <button
      type="button"
      className="day"
      aria-label={`New session on ${longDay(day)}`}
      onClick={() => onDay(day)}
    >
      {number}
    </button>
  );
}

const MARKS = { off: "off", unknown: "not known" } as const;

function Mark({ planned, day }: { planned: Planned; day: string }) {
  const mark = planned.marks.find((one) => one.day === day)?.mark;
  return mark ? <span className="day-mark">{MARKS[mark]}</span> : null;
}

/** The days of other months, and of the week that is looked at: it is the one that is copied. */
function dayClass(day: string, shown: string): string {
  const beside = day.slice(0, 7) === shown.slice(0, 7) ? "" : "beside";
  return mondayOf(day) === mondayOf(shown) ? `${beside} this-week` : beside;
}

interface LineProps {
  one: PlannedSession;
  shown: boolean;
  place: Place;
  onDrag: ((session: PlannedSession | null) => void) | undefined;
  onMove: (day: string) => void;
}

function SessionLine({ one, shown, place, onDrag, onMove }: LineProps) {
  const states = [one.done && "done", one.kind === "match" && "match", one.called_off && "called-off"];
  return (
    <button
      type="button"
      className={["session-line", ...states.filter(Boolean)].join(" ")}
      data-session={one.id}
      aria-pressed={shown}
      aria-keyshortcuts={onDrag && "Alt+ArrowLeft Alt+ArrowRight Alt+ArrowUp Alt+ArrowDown"}
      title={one.called_off ? `Called off: ${one.called_off}` : undefined}
      draggable={Boolean(onDrag)}
      onDragStart={() => onDrag?.(one)}
      onDragEnd={() => onDrag?.(null)}
      onKeyDown={(event) => {
        const step = event.altKey ? STEPS[event.key] : undefined;
        if (step === undefined) return;
        event.preventDefault();
        onMove(plusDays(one.day, step));
      }}
      onClick={() => place.set({ session: one.id })}
    >
      <span className="at">{one.at}</span> <span className="what">{one.opponent ?? one.title}</span>{" "}
      {one.called_off ? (
        <span className="quiet">called off</span>
      ) : (
        <span className="quiet">{one.minutes}′</span>
      )}
    </button>
  );
}
