import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import type { SessionWork, WorkRow } from "../../api/client";
import { workQuery } from "../../api/queries/session";
import { ChannelMark } from "../../charts/ChannelMark";
import { useKeys } from "../../frame/keys";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useOutbox } from "../../offline/outbox";
import { AthleteList, chosenOf } from "./AthleteList";
import { type Cell, cellsOf, countIn, type Item, itemsOf, withCount } from "./counts";
import { useWork, workKey } from "./useWork";

const SAVE_AFTER = 900;

/** Counting at the side: pick an athlete, tap what they do. Taps are gathered and saved as they pause. */
export function CounterPad({ place, session }: { place: Place; session: string }) {
  const work = useQuery(workQuery(place.squad.slug, session));
  const sheet = work.data;
  if (!sheet) return null;
  const rows = sheet.rows;
  const chosen = chosenOf(place, rows);
  if (sheet.classes.length === 0 || !chosen)
    return (
      <p className="quiet" style={{ padding: "20px var(--margin)" }}>
        Nothing is counted in a session of this kind. Units of work are set up under Squad.
      </p>
    );
  return (
    <div className="pad">
      <AthleteList place={place} rows={rows} chosen={chosen} said={(row) => totals(row, sheet)} />
      <Pad key={chosen.athlete_id} place={place} session={session} work={sheet} row={chosen} rows={rows} />
    </div>
  );
}

const counted = (work: SessionWork) => new Set(work.classes.map((one) => one.channel));

function totals(row: WorkRow, work: SessionWork): string {
  const channels = counted(work);
  return row.loads
    .filter((load) => channels.has(load.code))
    .map(
      (load) =>
        `${load.state === "estimated" ? "≈ " : ""}${load.load === null ? "–" : say.load(load.load)} ${
          work.channels.find((one) => one.code === load.code)?.unit ?? ""
        }`,
    )
    .join(", ");
}

interface PadProps {
  place: Place;
  session: string;
  work: SessionWork;
  row: WorkRow;
  rows: WorkRow[];
}

function Pad({ place, session, work, row, rows }: PadProps) {
  const counts = useCounts(place, session, row);
  const { items, change, save } = counts;
  const may = place.may("edit_entries");
  const cells = cellsOf(work);
  const add = (cell: Cell, by: number) => change(withCount(items, cell, countIn(items, cell) + by));
  const step = (by: number) => {
    const next = rows[rows.indexOf(row) + by];
    if (next) place.set({ athlete: String(next.athlete_id) }, true);
  };
  const numbers = cells.slice(0, 9).map((cell, i) => [String(i + 1), () => add(cell, 1)]);
  useKeys({ j: () => step(1), k: () => step(-1), u: counts.undo, ...Object.fromEntries(numbers) }, may);
  return (
    <section className="pad-main" aria-label={`Counts of ${row.name}`}>
      <header>
        <h2>{row.name}</h2>
        <span className="quiet">{totals(row, work)}</span>
        <button
          type="button"
          className="text-button"
          onClick={counts.undo}
          disabled={!counts.undoable}
          style={{ marginLeft: "auto" }}
        >
          Undo
        </button>
        <span role="status" className={save.error ? "over" : "quiet"}>
          {save.error?.message ?? counts.said}
        </span>
      </header>
      {work.channels
        .filter((channel) => counted(work).has(channel.code))
        .map((channel) => (
          <div key={channel.code}>
            <h3>
              <ChannelMark mark={channel.mark} /> {channel.name}
            </h3>
            <div className="pad-cells">
              {cells
                .filter((cell) => cell.channel === channel.code)
                .map((cell) => (
                  <PadCell
                    key={cell.key}
                    cell={cell}
                    count={countIn(items, cell)}
                    number={cells.indexOf(cell) + 1}
                    readOnly={!may}
                    onCount={(count) => change(withCount(items, cell, count))}
                  />
                ))}
            </div>
          </div>
        ))}
    </section>
  );
}

/** What was counted of an athlete: tapped in, saved by itself after a rest, and undone tap by tap. */
function useCounts(place: Place, session: string, row: WorkRow) {
  const save = useWork(place, session);
  const key = workKey(session, { athlete_id: row.athlete_id, what: "counted" });
  const waits = useOutbox().some((item) => item.key === key);
  const standing = row.works.find((one) => one.what === "counted");
  const [items, setItems] = useState<Item[]>(() => itemsOf(standing?.data));
  const [history, setHistory] = useState<Item[][]>([]);
  const dirty = useRef(false);
  const latest = useRef(items);
  latest.current = items;
  const version = useRef(standing?.version ?? null);
  version.current = standing?.version ?? version.current;

  const send = () => {
    if (!dirty.current) return;
    dirty.current = false;
    const kept = latest.current.filter((item) => item.count > 0);
    const data = kept.length ? { items: kept } : null;
    save.mutate([{ athlete_id: row.athlete_id, what: "counted", data, version: version.current }]);
  };
  const sendLatest = useRef(send);
  sendLatest.current = send;
  // biome-ignore lint/correctness/useExhaustiveDependencies: every tap begins the wait anew
  useEffect(() => {
    const timer = setTimeout(() => sendLatest.current(), SAVE_AFTER);
    return () => clearTimeout(timer);
  }, [items]);
  useEffect(() => () => sendLatest.current(), []);

  const put = (next: Item[], before: Item[][]) => {
    setHistory(before);
    dirty.current = true;
    setItems(next);
  };
  const undo = () => {
    const before = history.at(-1);
    if (before) put(before, history.slice(0, -1));
  };
  const said =
    save.isPending || dirty.current ? "Saving …" : waits ? "Kept here until there is a network" : "Saved";
  return {
    items,
    save,
    said,
    undo,
    undoable: history.length > 0,
    change: (next: Item[]) => put(next, [...history.slice(-99), items]),
  };
}

interface PadCellProps {
  cell: Cell;
  count: number;
  number: number;
  readOnly: boolean;
  onCount: (count: number) => void;
}

function PadCell({ cell, count, number, readOnly, onCount }: PadCellProps) {
  return (
    <div className="pad-cell">
      <button
        type="button"
        className="pad-tap"
        disabled={readOnly}
        onClick={() => onCount(count + 1)}
        aria-label={`One more ${cell.name}`}
      >
        <b className="figure">{count}</b>
        <span>{cell.name}</span>
        <small>
          × {Math.round(cell.weight * 100) / 100}
          {number < 10 && <kbd>{number}</kbd>}
        </small>
      </button>
      <button
        type="button"
        className="pad-less"
        disabled={readOnly || count === 0}
        aria-label={`One less ${cell.name}`}
        onClick={() => onCount(count - 1)}
      >
        −
      </button>
      <input
        inputMode="numeric"
        aria-label={`Count of ${cell.name}`}
        value={count}
        readOnly={readOnly}
        onFocus={(event) => event.target.select()}
        onChange={(event) => {
          const typed = Number.parseInt(event.target.value || "0", 10);
          if (typed >= 0 && typed <= 5000) onCount(typed);
        }}
      />
    </div>
  );
}
