import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type KeyboardEvent, useRef, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type TestDay, type TestRow } from "../../api/client";
import { testingDayQuery } from "../../api/queries/athlete";
import { dayAndMonth, mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { typedNumber } from "../../kit/fields";

interface GridProps {
  place: Place;
  day: TestDay;
  chosen: number | undefined;
}

type SideItem = TestRow["sides"][number];

/** Everyone's trials, typed like a spreadsheet: Enter goes down, Tab goes right; a line is saved when it is left. */
export function TestGrid({ place, day, chosen }: GridProps) {
  const table = useRef<HTMLTableElement>(null);
  const { test } = day;
  const usual = day.days.filter((one) => one < day.day).at(-1);
  const lines = day.rows.flatMap((row) => row.sides.map((side) => ({ row, side })));
  const move = (line: number, trial: number) => {
    const input = table.current?.querySelector<HTMLInputElement>(`[data-cell="${line}:${trial}"]`);
    input?.focus();
    input?.select();
  };
  const editable = place.may("edit_entries") && place.day <= place.squad.today;
  return (
    <div className="grid-wrap">
      <table className="entry-grid test-grid" ref={table}>
        <thead>
          <tr>
            <th scope="col">Athlete</th>
            {test.sides && <th scope="col">Side</th>}
            {Array.from({ length: test.trials }, (_, i) => `Trial ${i + 1}`).map((name) => (
              <th key={name} scope="col" className="number">
                {name}
              </th>
            ))}
            <th scope="col" className="number">
              {test.trials === 1 ? "Result" : test.combine === "best" ? "Best" : "Mean"}, {test.unit}
            </th>
            <th scope="col">{usual ? `Against ${dayAndMonth(usual)}` : "Against their last"}</th>
            <th scope="col" className="number">
              Rank
            </th>
            {test.sides && <th scope="col">Sides</th>}
          </tr>
        </thead>
        <tbody>
          {lines.map(({ row, side }, i) => (
            <Line
              key={`${row.athlete_id} ${side.side} ${side.version}`}
              place={place}
              day={day}
              row={row}
              side={side}
              index={i}
              usual={usual}
              editable={editable}
              chosen={row.athlete_id === chosen}
              onMove={move}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface LineProps {
  place: Place;
  day: TestDay;
  row: TestRow;
  side: SideItem;
  index: number;
  usual: string | undefined;
  editable: boolean;
  chosen: boolean;
  onMove: (line: number, trial: number) => void;
}

function Line({ place, day, row, side, index, usual, editable, chosen, onMove }: LineProps) {
  const { test } = day;
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const before = Array.from({ length: test.trials }, (_, i) => textOf(side.trials[i]));
  const [cells, setCells] = useState(before);
  const save = useMutation<TestDay, Problem, { sure: boolean; version: number | null }>({
    mutationFn: ({ sure, version }) =>
      ask(
        api.PUT("/api/squads/{slug}/tests/{code}/results", {
          params: { path: { slug, code: test.code } },
          body: {
            day: place.day,
            results: [
              {
                athlete_id: row.athlete_id,
                side: side.side,
                trials: cells.map((cell) => (cell.trim() ? typedNumber(cell) : null)),
                version,
                sure,
              },
            ],
          },
        }),
      ),
    onSuccess: (saved) => queries.setQueryData(testingDayQuery(slug, test.code, place.day).queryKey, saved),
  });
  const wrong = cells.some((cell) => cell.trim() !== "" && Number.isNaN(typedNumber(cell)));
  const changed = cells.some((cell, i) => cell !== before[i]);
  const leave = () => {
    if (editable && changed && !wrong && !save.isPending) save.mutate({ sure: false, version: side.version });
  };
  const onKey = (event: KeyboardEvent, trial: number) => {
    if (event.key === "Enter" || event.key === "ArrowDown") {
      event.preventDefault();
      onMove(index + 1, trial);
    } else if (event.key === "ArrowUp") onMove(index - 1, trial);
    else if (event.key === "Escape") setCells(before);
  };
  const first = !test.sides || side.side === "left";
  return (
    <tr
      className={chosen ? "chosen" : undefined}
      onBlur={(event) => {
        if (!event.currentTarget.contains(event.relatedTarget)) leave();
      }}
    >
      <th scope="row">
        {first ? (
          <>
            <button
              type="button"
              className="text-button plain"
              onClick={() => place.set({ athlete: String(row.athlete_id) }, true)}
            >
              {row.name}
            </button>{" "}
            <span className="quiet">{row.position}</span>
          </>
        ) : (
          <span className="visually-hidden">{row.name}</span>
        )}
      </th>
      {test.sides && <td>{side.side}</td>}
      {cells.map((cell, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: trials have no other name than their number
        <td key={i} className="cell number">
          <input
            data-cell={`${index}:${i}`}
            inputMode="decimal"
            aria-label={`Trial ${i + 1}, ${side.side ? `${side.side}, ` : ""}${row.name}`}
            aria-invalid={cell.trim() !== "" && Number.isNaN(typedNumber(cell))}
            readOnly={!editable}
            value={cell}
            onFocus={(event) => event.target.select()}
            onKeyDown={(event) => onKey(event, i)}
            onChange={(event) => setCells(cells.map((other, at) => (at === i ? event.target.value : other)))}
          />
        </td>
      ))}
      <td className="number figure">{side.value === null ? "" : say.fine(side.value)}</td>
      <td>
        {save.isError ? (
          <Refused
            problem={save.error}
            onKeep={(version) => save.mutate({ sure: true, version })}
            version={side.version}
            onTakeTheirs={() => askAgain(queries, [slug, "tests", test.code])}
          />
        ) : wrong ? (
          <span className="over">This is not a number.</span>
        ) : (
          <Against side={side} usual={usual} />
        )}
      </td>
      <td className="number figure">{first ? row.rank : ""}</td>
      {test.sides && <td>{first && <Sides row={row} />}</td>}
    </tr>
  );
}

interface RefusedProps {
  problem: Problem;
  version: number | null;
  onKeep: (version: number | null) => void;
  onTakeTheirs: () => void;
}

/** Why a result was not taken, and what may be done: be sure of it, or choose between two. */
function Refused({ problem, version, onKeep, onTakeTheirs }: RefusedProps) {
  const theirs =
    problem.status === 409
      ? (problem.body.theirs as { trials: (number | null)[]; version: number })
      : undefined;
  return (
    <span role="alert" className="over">
      {problem.message}{" "}
      {problem.body.unlikely === true && (
        <button type="button" className="text-button" onClick={() => onKeep(version)}>
          It is right
        </button>
      )}
      {theirs && (
        <>
          Theirs: {theirs.trials.map((one) => one ?? "–").join(", ")}.{" "}
          <button type="button" className="text-button" onClick={onTakeTheirs}>
            Take theirs
          </button>{" "}
          <button type="button" className="text-button" onClick={() => onKeep(theirs.version)}>
            Keep mine
          </button>
        </>
      )}
    </span>
  );
}

const textOf = (value: number | null | undefined) => (value == null ? "" : String(value));

/** `usual` is the day that most compare with, which stands in the head. */
function Against({ side, usual }: { side: SideItem; usual: string | undefined }) {
  if (side.last === null) return <span className="quiet">the first</span>;
  const when = side.last_day ? mediumDay(side.last_day) : "";
  if (side.value === null)
    return (
      <span className="quiet">
        {say.fine(side.last)}
        {side.last_day !== usual && ` on ${when}`}
      </span>
    );
  const by = side.value - side.last;
  const said = `${by > 0 ? "+" : by < 0 ? "−" : "±"}${say.fine(Math.abs(by), side.value)}`;
  return (
    <span className={side.change === "worse" ? "missing" : side.change === "better" ? "gained" : "quiet"}>
      {said}, {side.change}
      {side.last_day !== usual && <span className="quiet"> since {when}</span>}
    </span>
  );
}

function Sides({ row }: { row: TestRow }) {
  if (!row.asymmetry) return null;
  const { percent, stronger } = row.asymmetry;
  return (
    <span className={row.matters ? "missing" : "quiet"}>
      {stronger ? `${stronger} stronger by ${say.short(percent)} %` : "even"}
      {row.matters && ", three tests running"}
    </span>
  );
}
