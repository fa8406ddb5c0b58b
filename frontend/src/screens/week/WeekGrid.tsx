import { useState } from "react";
import { Link } from "react-router";
import type { Week, WeekCell, WeekRow } from "../../api/client";
import { Notch } from "../../charts/Notch";
import { RoomSlot } from "../../charts/RoomSlot";
import { SpareTicks } from "../../charts/SpareTicks";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { type OnSession, WeekHeads } from "./WeekHeads";
import { cellText, type Group, groupsOf, isOver, spare, standsOut } from "./weekStates";

interface GridProps {
  place: Place;
  week: Week;
  /** As it is planned, where something else is tried out. */
  planned: Week;
  onSession?: OnSession;
}

/** Days side by side, people below each other: load of room in each cell. */
export function WeekGrid({ place, week, planned, onSession }: GridProps) {
  const [opened, setOpened] = useState<string[]>([]);
  const loads = week.rows.flatMap((row) =>
    row.cells.map((cell) => Math.max(cell.plan, Math.min(cell.room ?? 0, 1.6 * cell.plan))),
  );
  const full = Math.max(1, ...loads);
  const toggle = (position: string) =>
    setOpened((before) =>
      before.includes(position) ? before.filter((one) => one !== position) : [...before, position],
    );
  return (
    <table className="week-grid">
      <thead>
        <tr>
          <th scope="col" className="quiet">
            Sessions: minutes at planned effort. Cells: {week.channel.name.toLowerCase()} of room
          </th>
          <WeekHeads week={week} {...(onSession && { onSession })} />
        </tr>
      </thead>
      {groupsOf(week.rows).map((group) => (
        <GroupRows
          key={group.position}
          place={place}
          group={group}
          full={full}
          open={opened.includes(group.position)}
          onToggle={() => toggle(group.position)}
          before={planned}
        />
      ))}
    </table>
  );
}

interface GroupProps {
  place: Place;
  group: Group;
  full: number;
  open: boolean;
  onToggle: () => void;
  before: Week;
}

/** A group's ticks, and below them whoever stands out; all of them when it is opened. */
function GroupRows({ place, group, full, open, onToggle, before }: GroupProps) {
  const rows = group.rows.filter((row) => open || standsOut(row));
  const earlier = new Map(before.rows.map((row) => [row.athlete_id, row]));
  const name = group.position || "no position";
  return (
    <tbody>
      <tr className="week-group">
        <th scope="rowgroup">
          <button type="button" className="text-button" aria-expanded={open} onClick={onToggle}>
            {name}
          </button>
          <span className="quiet">
            {group.rows.length === 1 ? "1 person" : `${group.rows.length} people`},{" "}
            {group.over > 0 ? <b className="over">{group.over} over</b> : "all hold"}
          </span>
        </th>
        {group.rows[0]?.cells.map((_, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a day's place in the week
          <td key={i}>
            <Ticks
              cells={group.rows.map((row) => row.cells[i]).filter((cell) => cell !== undefined)}
              full={full}
            />
          </td>
        ))}
      </tr>
      {rows.map((row) => (
        <PersonRow
          key={row.athlete_id}
          place={place}
          row={row}
          full={full}
          before={earlier.get(row.athlete_id)}
        />
      ))}
    </tbody>
  );
}

function Ticks({ cells, full }: { cells: WeekCell[]; full: number }) {
  const known = cells
    .filter((cell) => !cell.closed)
    .map(spare)
    .filter((load) => load !== null);
  const over = cells.filter(isOver).length;
  return <SpareTicks spare={known} full={full} said={over > 0 ? `${over} over` : "all hold"} />;
}

function PersonRow({
  place,
  row,
  full,
  before,
}: {
  place: Place;
  row: WeekRow;
  full: number;
  before?: WeekRow | undefined;
}) {
  return (
    <tr>
      <th scope="row">
        <Link to={place.to("/athlete", { athlete: String(row.athlete_id) })}>{row.name}</Link>
        <span className="quiet">
          {row.number} {row.position}
        </span>
        {row.stands && <span className="week-stands">{row.stands}</span>}
      </th>
      {row.cells.map((cell, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a day's place in the week
        <Cell key={i} cell={cell} full={full} before={before?.cells[i]} />
      ))}
    </tr>
  );
}

function Cell({ cell, full, before }: { cell: WeekCell; full: number; before?: WeekCell | undefined }) {
  if (cell.closed) return <td className="quiet week-closed">{cell.words}</td>;
  const changed = before !== undefined && Math.abs(before.plan - cell.plan) > 0.5;
  return (
    <td
      className={changed ? "changed" : undefined}
      title={cellText(cell) + (cell.words ? ` (${cell.words})` : "")}
    >
      <span className="visually-hidden">{cellText(cell)}</span>
      <span aria-hidden="true" className="week-figures">
        {isOver(cell) && <Notch shape="over" severity={cell.over > 0 ? "act" : "watch"} size={10} />}
        <b>{say.load(cell.plan)}</b>{" "}
        <span className="quiet">
          {cell.room === null ? "no figure" : `of ${cell.words ? "≤ " : ""}${say.room(cell.room)}`}
        </span>
      </span>
      <RoomSlot plan={cell.plan} room={cell.room} full={full} />
      {isOver(cell) && (
        <span aria-hidden="true" className="week-over">
          {cell.over > 0 ? `${say.load(cell.over)} over ${cell.by}` : `over on ${cell.also.join(", ")}`}
        </span>
      )}
    </td>
  );
}
