import { type ClipboardEvent, type KeyboardEvent, useEffect, useRef, useState } from "react";
import type { Grid, GridRow } from "../../api/client";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { cellKey, FIELDS, type Field, RANGES, readPasted, showCell, type Values } from "./cells";
import type { RowState } from "./gridSender";
import { useGrid } from "./useGrid";

interface EntryGridProps {
  place: Place;
  grid: Grid;
  queryKey: readonly unknown[];
}

const NAMES: Record<Field, string> = { minutes: "Minutes", effort: "Effort", words: "Words" };

/** Athletes by minutes, effort and words, typed like a spreadsheet. */
export function EntryGrid({ place, grid, queryKey }: EntryGridProps) {
  const cells = useGrid(place.squad.slug, grid, queryKey);
  const table = useRef<HTMLTableElement>(null);
  const mayEdit = place.may("edit_entries");
  const past = grid.day <= place.squad.today;
  const editable = mayEdit && past;

  const focus = (row: number, column: number) => {
    const input = table.current?.querySelector<HTMLInputElement>(`[data-cell="${row}:${column}"]`);
    input?.focus();
    input?.select();
    return Boolean(input);
  };
  const paste = (row: number, column: number, text: string) => {
    const typed = readPasted(text).flatMap((line, down) =>
      line.flatMap((cell, right) => {
        const athlete = grid.rows[row + down]?.athlete_id;
        const field = FIELDS[column + right];
        return athlete === undefined || field === undefined ? [] : [{ athlete, field, text: cell }];
      }),
    );
    cells.keep(typed);
  };

  return (
    <div className="grid-wrap">
      {!editable && (
        <p className="quiet" style={{ margin: "10px 0 0" }}>
          {mayEdit
            ? "Still to come: it is recorded when it is done."
            : "Your role may look at this, but not change it."}
        </p>
      )}
      {cells.failure && (
        <p role="alert" className="over" style={{ margin: "10px 0 0" }}>
          Not saved yet: {cells.failure.text}{" "}
          {cells.failure.status === 401 && (
            <a className="text-button" href="/" target="_blank" rel="noreferrer">
              Sign in in a new tab
            </a>
          )}{" "}
          <button type="button" className="text-button" onClick={() => cells.tryAgain()}>
            Try again now
          </button>
        </p>
      )}
      <table className="entry-grid" ref={table}>
        <thead>
          <tr>
            <th scope="col">Athlete</th>
            <th scope="col" className="number optional">
              Plan
            </th>
            <th scope="col" className="number">
              Minutes
            </th>
            <th scope="col" className="number">
              Effort, 0–10
            </th>
            <th scope="col" className="number">
              Load
            </th>
            <th scope="col" className="optional">
              State
            </th>
            <th scope="col" className="optional">
              Words
            </th>
          </tr>
        </thead>
        <tbody>
          {grid.rows.map((row, i) => (
            <Row
              key={row.athlete_id}
              row={row}
              index={i}
              factor={grid.factor}
              editable={editable}
              cells={cells}
              onMove={focus}
              onPaste={paste}
            />
          ))}
        </tbody>
      </table>
      <p className="quiet" style={{ fontSize: "var(--type-note)" }}>
        {grid.factor === null
          ? "Load is that of the squad’s main channel. "
          : `Load is minutes × effort (session-RPE)${grid.factor === 1 ? "" : `, × ${grid.factor} for ${grid.place}`}. `}
        A dotted effort is an estimate until the rating is in. Minutes 0: took no part. <kbd>?</kbd> lists the
        keys.
      </p>
    </div>
  );
}

interface RowProps {
  row: GridRow;
  index: number;
  factor: number | null;
  editable: boolean;
  cells: ReturnType<typeof useGrid>;
  onMove: (row: number, column: number) => boolean;
  onPaste: (row: number, column: number, text: string) => void;
}

function Row({ row, index, factor, editable, cells, onMove, onPaste }: RowProps) {
  const values = cells.current(row.athlete_id);
  const conflict = cells.conflicts.get(row.athlete_id);
  const cell = (field: Field, column: number) => (
    <Cell
      row={row}
      field={field}
      place={[index, column]}
      values={values}
      editable={editable}
      cells={cells}
      onMove={onMove}
      onPaste={onPaste}
    />
  );
  const wrong = FIELDS.map((field) => cells.refused.get(cellKey(row.athlete_id, field))?.why).filter(Boolean);
  return (
    <tr>
      <th scope="row">
        <b>{row.name}</b> <span className="quiet">{row.position}</span>
        {row.called && <small className="row-called">{row.called}</small>}
      </th>
      <td className="number quiet optional">
        {row.planned_minutes === null
          ? "–"
          : `${say.short(row.planned_minutes)} at ${say.short(row.planned_effort ?? 0)}`}
      </td>
      {cell("minutes", 0)}
      {cell("effort", 1)}
      <td className="number figure">{loadText(row, values, factor)}</td>
      <td className={conflict || wrong.length ? "saved" : "saved optional"} style={{ minWidth: 210 }}>
        {conflict ? (
          <span role="alert" className="over">
            Changed by someone else to {say.short(conflict.theirs.minutes ?? 0)} min at{" "}
            {conflict.theirs.effort === null ? "no rating" : say.short(conflict.theirs.effort)}.{" "}
            <button type="button" className="text-button" onClick={() => cells.settle(row.athlete_id, false)}>
              Take theirs
            </button>{" "}
            <button type="button" className="text-button" onClick={() => cells.settle(row.athlete_id, true)}>
              Keep mine
            </button>
          </span>
        ) : wrong.length > 0 ? (
          <span role="alert" className="over" id={errorId(row)}>
            {wrong.join(" ")}
          </span>
        ) : (
          <StateText state={cells.states.get(row.athlete_id)} row={row} />
        )}
      </td>
      {cell("words", 2)}
    </tr>
  );
}

/** Where the load comes from the rating it follows what is typed, before it is saved. */
function loadText(row: GridRow, values: Values, factor: number | null): string {
  if (values.minutes === 0) return "0";
  if (factor !== null && values.minutes !== null && values.effort !== null)
    return say.load(values.minutes * values.effort * factor);
  if (factor === null && row.load !== null) return say.load(row.load);
  return row.estimate ? `≈ ${say.load(row.estimate.load)}` : "";
}

function StateText({ state, row }: { state: RowState | undefined; row: GridRow }) {
  if (state === "saving") return <>Saving …</>;
  if (state === "waiting") return <span className="over">Waiting to be saved</span>;
  const saved = state === "saved" ? "Saved. " : "";
  if (row.beside && row.minutes === null) return <>{`${saved}Without load: ${row.beside}.`}</>;
  if (row.how) return <>{saved + row.how}</>;
  if (row.state === "open") return <>{saved}Nothing recorded</>;
  const by =
    row.source === "athlete" ? "by the athlete" : row.source === "staff" ? "by staff" : "from a file";
  return <>{saved || by}</>;
}

const errorId = (row: GridRow) => `error-${row.athlete_id}`;

interface CellProps {
  row: GridRow;
  field: Field;
  place: [number, number];
  values: Values;
  editable: boolean;
  cells: ReturnType<typeof useGrid>;
  onMove: (row: number, column: number) => boolean;
  onPaste: (row: number, column: number, text: string) => void;
}

function Cell({ row, field, place: [at, column], values, editable, cells, onMove, onPaste }: CellProps) {
  const key = cellKey(row.athlete_id, field);
  const refused = cells.refused.get(key);
  const kept = showCell(values, field);
  const [typing, setShown] = useState<string | null>(null);
  // What is typed now. A key that moves on also leaves the cell, before it is drawn anew, and must not keep it twice.
  const typed = useRef<string | null>(null);
  const setTyping = (next: string | null) => {
    typed.current = next;
    setShown(next);
  };
  const text = typing ?? refused?.text ?? kept;
  const input = useRef<HTMLInputElement>(null);

  // What someone else saved shows at once, unless this cell is being typed in.
  useEffect(() => {
    if (document.activeElement !== input.current) setTyping(null);
  });

  const commit = () => {
    const last = typed.current;
    setTyping(null);
    if (last !== null && last !== (refused?.text ?? kept))
      cells.keep([{ athlete: row.athlete_id, field, text: last }]);
  };
  const onKey = (event: KeyboardEvent<HTMLInputElement>) => {
    const target = event.currentTarget;
    const whole = target.selectionStart === 0 && target.selectionEnd === target.value.length;
    const atStart = whole || target.selectionEnd === 0;
    const atEnd = whole || target.selectionStart === target.value.length;
    const move = (down: number, right: number) => {
      event.preventDefault();
      commit();
      onMove(at + down, column + right);
    };
    if (event.key === "Enter") move(event.shiftKey ? -1 : 1, 0);
    else if (event.key === "ArrowDown") move(1, 0);
    else if (event.key === "ArrowUp") move(-1, 0);
    else if (event.key === "ArrowRight" && atEnd) move(0, 1);
    else if (event.key === "ArrowLeft" && atStart) move(0, -1);
    else if (event.key === "Escape") {
      event.preventDefault();
      setTyping(null);
      cells.forget(key);
    } else if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "z" && typing === null) {
      event.preventDefault();
      cells.undo();
    }
  };
  const onPasteHere = (event: ClipboardEvent<HTMLInputElement>) => {
    const pasted = event.clipboardData.getData("text/plain");
    if (!/[\t\n\r]/.test(pasted)) return;
    event.preventDefault();
    setTyping(null);
    onPaste(at, column, pasted);
  };

  const hollow =
    field === "effort" && values.effort === null && (row.state === "estimated" || row.state === "missing");
  const classes = ["cell", field === "words" ? "words optional" : "number"];
  if (hollow) classes.push(row.state);
  if (refused) classes.push("refused");
  return (
    <td className={classes.join(" ")}>
      <input
        ref={input}
        data-cell={`${at}:${column}`}
        aria-label={`${NAMES[field]}, ${row.name}`}
        inputMode={field === "words" ? "text" : "decimal"}
        autoComplete="off"
        readOnly={!editable}
        value={text}
        placeholder={hollow && row.estimate ? `≈ ${say.short(row.estimate.effort)}` : undefined}
        aria-invalid={refused ? true : undefined}
        aria-describedby={refused ? errorId(row) : undefined}
        title={field === "words" ? undefined : RANGES[field]}
        onChange={(event) => setTyping(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={commit}
        onKeyDown={onKey}
        onPaste={onPasteHere}
      />
    </td>
  );
}
