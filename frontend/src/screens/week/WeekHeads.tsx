import { useState } from "react";
import type { Week, WeekSession } from "../../api/client";
import { plusDays, shortDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import { typedNumber } from "../../kit/fields";

export type OnSession = (session: WeekSession, wanted: { minutes?: number; day?: string }) => void;

const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1 };

/** The days with their sessions. A session is moved by dragging it to another day, or with Alt and the arrows. */
export function WeekHeads({ week, onSession }: { week: Week; onSession?: OnSession }) {
  const [dragged, setDragged] = useState<WeekSession | null>(null);
  const days = week.days.map(({ day }) => day);
  return week.days.map(({ day, sessions, goal }) => (
    <th
      key={day}
      scope="col"
      className={sessions.some((one) => one.kind === "match") ? "match" : undefined}
      onDragOver={(event) => dragged && event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        if (dragged) onSession?.(dragged, { day });
        setDragged(null);
      }}
    >
      <span className="week-day">{shortDay(day)}</span>
      {goal && <span className="week-goal">{goal}</span>}
      {sessions.map((one) => (
        <Session
          key={one.id}
          one={one}
          moved={one.day !== day}
          onDrag={setDragged}
          onMove={(step) => {
            const to = plusDays(day, step);
            if (days.includes(to)) onSession?.(one, { day: to });
          }}
          {...(onSession && !one.done && { onSession })}
        />
      ))}
    </th>
  ));
}

interface SessionProps {
  one: WeekSession;
  /** On another day than planned. */
  moved: boolean;
  onSession?: OnSession;
  onMove: (step: number) => void;
  onDrag: (session: WeekSession | null) => void;
}

/** A session in the head of its day. */
function Session({ one, moved, onSession, onMove, onDrag }: SessionProps) {
  const change = one.typed - one.minutes;
  return (
    <span className={`week-session${one.kind === "match" ? " is-match" : ""}`}>
      {onSession ? (
        <button
          type="button"
          className="what"
          title={`${one.title} at ${one.at}: drag it to another day, or Alt and the arrows`}
          aria-label={`${one.title} at ${one.at}`}
          aria-keyshortcuts="Alt+ArrowLeft Alt+ArrowRight"
          draggable
          onDragStart={() => onDrag(one)}
          onDragEnd={() => onDrag(null)}
          onKeyDown={(event) => {
            const step = event.altKey ? STEPS[event.key] : undefined;
            if (step === undefined) return;
            event.preventDefault();
            onMove(step);
          }}
        >
          {one.title}
        </button>
      ) : (
        <span className="what">{one.title}</span>
      )}
      {onSession && one.kind !== "match" ? (
        <Minutes key={one.typed} one={one} onMinutes={(minutes) => onSession(one, { minutes })} />
      ) : (
        <b>{say.short(one.typed)}</b>
      )}
      <span className="quiet">at {say.short(one.effort)}</span>
      {change !== 0 && (
        <span className="week-chip">
          {change > 0 ? "+" : "−"} {say.short(Math.abs(change))} min
        </span>
      )}
      {moved && <span className="week-chip">from {shortDay(one.day)}</span>}
    </span>
  );
}

/** Minutes that are typed: taken with Enter or by going on, left as they were with Escape. */
function Minutes({ one, onMinutes }: { one: WeekSession; onMinutes: (minutes: number) => void }) {
  const [typed, setTyped] = useState<string | null>(null);
  const wrong = Boolean(typed?.trim()) && Number.isNaN(typedNumber(typed ?? ""));
  const take = () => {
    if (typed === null || wrong) return;
    if (typed.trim()) onMinutes(typedNumber(typed));
    setTyped(null);
  };
  return (
    <>
      <input
        aria-label={`Minutes of ${one.title} at ${one.at}`}
        inputMode="decimal"
        aria-invalid={wrong}
        value={typed ?? say.short(one.typed)}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={take}
        onKeyDown={(event) => {
          if (event.key === "Enter") take();
          if (event.key === "Escape") setTyped(null);
        }}
      />
      {wrong && (
        <span role="alert" className="week-chip over">
          a number of minutes
        </span>
      )}
    </>
  );
}
