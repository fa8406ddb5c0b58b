import type { Heat } from "../../../api/client";
import { ChannelMark } from "../../../charts/ChannelMark";
import { mediumDay } from "../../../frame/days";
import * as say from "../../../frame/numbers";
import type { Place } from "../../../frame/place";
import {
  type By,
  type Cell,
  orderOf,
  type Part,
  pressed,
  type Row,
  shownBy,
  sorted,
  step,
  zSaid,
} from "./heat";

interface Props {
  place: Place;
  heat: Heat;
  by: By;
}

const PARTS: Part[] = ["session", "week"];

/** A row a person, a column a figure; a press on a column sorts by it. */
export function HeatTable({ place, heat, by }: Props) {
  const order = orderOf(
    place.get("sort"),
    heat.figures.map((one) => one.code),
  );
  const { session, figures } = heat;
  const heads = {
    session: session && `${session.opponent ?? session.title}, ${mediumDay(session.day)}`,
    week: "seven days",
  };
  const sort = (part: Part, i: number) => {
    if (order?.part !== part || order.figure !== i) return undefined;
    return order.least ? "ascending" : "descending";
  };
  const columns = (part: Part) => figures.map((_, i) => shownBy(heat.rows, part, i, by));
  const shown = { session: columns("session"), week: columns("week") };
  return (
    <table className="heat-table" aria-label="Squad by figure">
      <thead>
        <tr>
          <td />
          {PARTS.map((part) => (
            <th key={part} scope="colgroup" colSpan={figures.length}>
              {heads[part]}
            </th>
          ))}
        </tr>
        <tr>
          <th scope="col">athlete</th>
          {PARTS.map((part) =>
            figures.map((figure, i) => (
              <th key={`${part} ${figure.code}`} scope="col" aria-sort={sort(part, i)}>
                <button
                  type="button"
                  className="text-button plain"
                  onClick={() => place.set({ sort: pressed(order, part, i, figure.code) }, true)}
                >
                  {figure.mark && <ChannelMark mark={figure.mark} size={10} />} {figure.name}
                  {sort(part, i) && (order?.least ? " ↑" : " ↓")}
                </button>
                <small>{shown[part][i] === "amount" ? figure.unit : "% of a match"}</small>
              </th>
            )),
          )}
        </tr>
      </thead>
      <tbody>
        {sorted(heat.rows, order, by).map((row) => (
          <Line key={row.athlete_id} row={row} heat={heat} shown={shown} />
        ))}
      </tbody>
    </table>
  );
}

interface LineProps {
  row: Row;
  heat: Heat;
  shown: Record<Part, By[]>;
}

function Line({ row, heat, shown }: LineProps) {
  const cell = (part: Part) => (one: Cell, i: number) => (
    <Figure
      key={`${part} ${heat.figures[i]?.code}`}
      cell={one}
      unit={heat.figures[i]?.unit ?? ""}
      by={shown[part][i] ?? "percent"}
    />
  );
  return (
    <tr>
      <th scope="row">
        {row.name} <small>{row.position}</small>
      </th>
      {row.session ? (
        row.session.map(cell("session"))
      ) : (
        <td className="quiet heat-away" colSpan={heat.figures.length}>
          not in it
        </td>
      )}
      {row.week.map(cell("week"))}
    </tr>
  );
}

/** A figure, and how far it is from what is usual. */
function Figure({ cell, unit, by }: { cell: Cell; unit: string; by: By }) {
  const value = by === "amount" ? cell.amount : cell.percent;
  const told = cell.amount === null ? "not known" : `${say.load(cell.amount)} ${unit}`;
  return (
    <td className={`heat-cell heat-${step(cell.z)}`} title={told}>
      <b className="figure">{value === null ? "–" : `${cell.estimated ? "≈" : ""}${say.load(value)}`}</b>
      <span className="figure">{zSaid(cell.z)}</span>
    </td>
  );
}
