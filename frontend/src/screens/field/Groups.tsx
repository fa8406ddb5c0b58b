import { useState } from "react";
import type { Field } from "../../api/client";
import { RoomMinutes } from "../../charts/RoomMinutes";
import type { Stands } from "./fold";
import type { Note } from "./useField";

type Row = Field["rows"][number];

interface Props {
  field: Field;
  stands: Stands;
  note: Note;
  now: number;
}

/** Who may do what: room as minutes on the session's own time. Of those with the whole plan and room for it one line. */
export function Groups({ field, stands, note, now }: Props) {
  const [open, setOpen] = useState(false);
  const began = stands.runs[0]?.begin ?? now;
  const left = Math.max(field.planned_minutes - (now - began) / 60, 5);
  return (
    <section className="field-groups" aria-label="Groups">
      <h2>
        <b>Groups</b> <span>room in minutes</span>
      </h2>
      {field.groups.map((group) => {
        const rows = field.rows.filter((row) => row.group === group.code);
        if (rows.length === 0) return null;
        const short = group.code !== "full" || open;
        return (
          <div key={group.code}>
            <h3 className={group.code === "return" ? "plum" : undefined}>
              {group.name} <span>{rows.length}</span>
              {group.code === "full" && (
                <button type="button" className="text-button" onClick={() => setOpen(!open)}>
                  {open ? "close" : "one by one"}
                </button>
              )}
            </h3>
            {!short && <Together rows={rows} minutes={left} />}
            {short &&
              rows.map((row) => (
                <One
                  key={row.athlete_id}
                  row={row}
                  minutes={left}
                  left={stands.left.get(row.athlete_id)}
                  note={note}
                />
              ))}
          </div>
        );
      })}
    </section>
  );
}

const roomIn = (row: Row, minutes: number) => Math.min(row.room_minutes ?? 0, Math.max(minutes, 0));

function Together({ rows, minutes }: { rows: Row[]; minutes: number }) {
  const known = rows.filter((row) => row.room_minutes !== null);
  const least = [...known].sort((a, b) => (a.room_minutes ?? 0) - (b.room_minutes ?? 0))[0];
  const short = known.filter((row) => (row.room_minutes ?? 0) < Math.min(row.plan_minutes, minutes) - 0.5);
  return (
    <div className="field-row">
      <p>
        {said(rows, known, short)}
        {least && <small>{least.name} the least</small>}
      </p>
      <RoomMinutes room={least ? roomIn(least, minutes) : null} plan={minutes} most={minutes} />
    </div>
  );
}

/** Of the whole group in one sentence: who has no room for all of it, and of whom no room is known. */
function said(rows: Row[], known: Row[], short: Row[]): string {
  const unknown = rows.filter((row) => !known.includes(row));
  if (unknown.length === rows.length) return "room is not known yet: too little history";
  const who = short.map((row) => row.name).join(", ");
  const room =
    short.length === 0 ? (unknown.length === 0 ? "all have room" : "room") : `no room for all of it: ${who}`;
  return unknown.length === 0
    ? room
    : `${room}; not known yet of ${unknown.map((row) => row.name).join(", ")}`;
}

interface OneProps {
  row: Row;
  minutes: number;
  left: number | undefined;
  note: Note;
}

function One({ row, minutes, left, note }: OneProps) {
  const [acts, setActs] = useState(false);
  const plan = Math.min(row.plan_minutes, minutes);
  return (
    <>
      <div className="field-row">
        <button type="button" className="field-person" aria-expanded={acts} onClick={() => setActs(!acts)}>
          {row.name}
          <small>{left === undefined ? row.how || "as planned" : "has left"}</small>
        </button>
        {row.group === "ask" && left === undefined ? (
          <b>ask first</b>
        ) : (
          <RoomMinutes
            room={
              row.group === "out" || left !== undefined
                ? 0
                : row.room_minutes === null
                  ? null
                  : roomIn(row, minutes)
            }
            plan={left === undefined ? plan : 0}
            most={minutes}
          />
        )}
      </div>
      {acts && (
        <div className="field-acts">
          <button
            type="button"
            onClick={() =>
              note("break", `${row.name}: a break of 2 min.`, { athlete: row.athlete_id, amount: 120 })
            }
          >
            Break 2:00
          </button>
          <button
            type="button"
            onClick={() => note("leave", `${row.name} has left.`, { athlete: row.athlete_id })}
          >
            Out now
          </button>
        </div>
      )}
    </>
  );
}
