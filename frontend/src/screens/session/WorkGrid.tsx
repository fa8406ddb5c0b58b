import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { SessionWork, WorkChange, WorkRow } from "../../api/client";
import { workQuery } from "../../api/queries/session";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { typedNumber } from "../../kit/fields";
import { useWork } from "./useWork";

interface Column {
  head: string;
  name: string;
}

interface Kind {
  what: "segments" | "zones";
  columns: (work: SessionWork) => Column[];
  read: (data: Record<string, unknown>) => string[];
  /** The document that the cells of a row make up; null while it is not complete, undefined to take it away. */
  write: (cells: string[]) => Record<string, unknown> | null | undefined;
  nothing: string;
  hint: string;
}

const text = (value: unknown) => (value == null ? "" : String(value));
const number = (cell: string) => (cell.trim() === "" ? null : typedNumber(cell));

/** Minutes and effort of each part of the session. */
export const SEGMENTS: Kind = {
  what: "segments",
  columns: (work) =>
    work.segments.flatMap((part) => [
      { head: part.name, name: `Minutes of ${part.name}` },
      { head: `effort × ${part.weight}`, name: `Effort of ${part.name}` },
    ]),
  read: (data) =>
    (data.items as { minutes: unknown; effort: unknown }[]).flatMap((item) => [
      text(item.minutes),
      text(item.effort),
    ]),
  write: (cells) => {
    if (cells.every((cell) => !cell.trim())) return undefined;
    const items = [];
    for (let i = 0; i < cells.length; i += 2)
      items.push({ minutes: number(cells[i] ?? ""), effort: number(cells[i + 1] ?? "") });
    return items.some((item) => Number.isNaN(item.minutes) || Number.isNaN(item.effort)) ? null : { items };
  },
  nothing: "No unit of this squad is counted by segment in a session of this kind.",
  hint: "Minutes and effort (0 to 10, half points) for each part; the coach’s weight stands beside the effort.",
};

/** Minutes in heart-rate zones, as a watch shows them. */
export const ZONES: Kind = {
  what: "zones",
  columns: (work) =>
    Array.from({ length: work.zones }, (_, i) => ({
      head: `zone ${i + 1}, min`,
      name: `Minutes in zone ${i + 1}`,
    })),
  read: (data) => (data.minutes as unknown[]).map(text),
  write: (cells) => {
    if (cells.every((cell) => !cell.trim())) return undefined;
    const minutes = cells.map(number);
    return minutes.some((value) => value === null || Number.isNaN(value)) ? null : { minutes };
  },
  nothing: "No unit of this squad counts minutes in zones in a session of this kind.",
  hint: "Minutes in each zone. They count where there is no recording of the session.",
};

/** Work of everyone in a session, a row an athlete; a row is saved when it is left. */
export function WorkGrid({ place, session, kind }: { place: Place; session: string; kind: Kind }) {
  const work = useQuery(workQuery(place.squad.slug, session));
  const save = useWork(place, session);
  if (!work.data) return null;
  const columns = kind.columns(work.data);
  const asked = kind.what === "segments" ? work.data.by_segment : work.data.zones > 0;
  if (columns.length === 0 || !asked)
    return (
      <p className="quiet" style={{ padding: "20px var(--margin)" }}>
        {kind.nothing} Units of work are set up under Squad.
      </p>
    );
  return (
    <div className="grid-wrap">
      {save.error && (
        <p role="alert" className="over">
          Not saved: {save.error.message}
        </p>
      )}
      <table className="entry-grid work-grid">
        <thead>
          <tr>
            <th scope="col">Athlete</th>
            {columns.map((column) => (
              <th key={column.name} scope="col" className="number">
                {column.head}
              </th>
            ))}
            <th scope="col" className="number">
              Load
            </th>
          </tr>
        </thead>
        <tbody>
          {work.data.rows.map((row) => {
            const version = row.works.find((one) => one.what === kind.what)?.version ?? 0;
            return (
              <Row
                key={`${row.athlete_id} ${version}`}
                row={row}
                kind={kind}
                columns={columns}
                editable={place.may("edit_entries")}
                load={loadOf(work.data, row)}
                onSave={(change) => save.mutate([change])}
              />
            );
          })}
        </tbody>
      </table>
      <p className="quiet" style={{ fontSize: "var(--type-note)" }}>
        {kind.hint}
      </p>
    </div>
  );
}

function loadOf(work: SessionWork, row: WorkRow): string {
  return row.loads
    .filter((load) => load.code !== work.channels[0]?.code)
    .map((load) => {
      const channel = work.channels.find((one) => one.code === load.code);
      const amount = load.load === null ? "unknown" : say.load(load.load);
      return `${channel?.name ?? ""} ${load.state === "estimated" ? "≈ " : ""}${amount}`;
    })
    .join(", ");
}

interface RowProps {
  row: WorkRow;
  kind: Kind;
  columns: Column[];
  editable: boolean;
  load: string;
  onSave: (change: WorkChange) => void;
}

function Row({ row, kind, columns, editable, load, onSave }: RowProps) {
  const standing = row.works.find((one) => one.what === kind.what);
  const before = standing ? kind.read(standing.data) : [];
  const [cells, setCells] = useState<string[]>(columns.map((_, i) => before[i] ?? ""));
  const document = kind.write(cells);
  const leave = () => {
    if (document === null || cells.every((cell, i) => cell === (before[i] ?? ""))) return;
    onSave({
      athlete_id: row.athlete_id,
      what: kind.what,
      data: document ?? null,
      version: standing?.version ?? null,
    });
  };
  return (
    <tr
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) leave();
      }}
    >
      <th scope="row">
        <b>{row.name}</b> <span className="quiet">{row.position}</span>
      </th>
      {columns.map((column, i) => (
        <td key={column.name} className="cell number">
          <input
            inputMode="decimal"
            aria-label={`${column.name}, ${row.name}`}
            readOnly={!editable}
            value={cells[i]}
            onFocus={(event) => event.target.select()}
            onChange={(event) =>
              setCells((all) => all.map((cell, at) => (at === i ? event.target.value : cell)))
            }
          />
        </td>
      ))}
      <td className="number quiet">
        {document === null ? <span className="over">not complete yet</span> : load}
      </td>
    </tr>
  );
}
