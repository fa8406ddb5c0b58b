import { Button } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { SessionWork, WorkRow } from "../../api/client";
import { workQuery } from "../../api/queries/session";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { Select, typedNumber } from "../../kit/fields";
import { AthleteList, chosenOf } from "./AthleteList";
import { type Line, ofMaximum } from "./lifts";
import { type Estimate, useLifting } from "./useLifting";

/** An athlete's lifting: lines as they are typed, with what each comes to. */
export function LiftingSheet({ place, session }: { place: Place; session: string }) {
  const work = useQuery(workQuery(place.squad.slug, session));
  const sheet = work.data;
  if (!sheet) return null;
  const rows = sheet.rows;
  const chosen = chosenOf(place, rows);
  if (!sheet.lifting || !chosen)
    return (
      <p className="quiet" style={{ padding: "20px var(--margin)" }}>
        No lifting belongs to a session of this kind. Units of work are set up under Squad.
      </p>
    );
  return (
    <div className="pad">
      <AthleteList place={place} rows={rows} chosen={chosen} said={(row) => lifted(row, sheet)} />
      <Sheet key={chosen.athlete_id} place={place} session={session} work={sheet} row={chosen} />
    </div>
  );
}

function lifted(row: WorkRow, work: SessionWork): string {
  const codes = new Set(work.channels.filter((one) => one.unit === "kg").map((one) => one.code));
  return row.loads
    .filter((load) => codes.has(load.code))
    .map((load) =>
      load.load === null ? "–" : `${load.state === "estimated" ? "≈ " : ""}${say.load(load.load)} kg`,
    )
    .join(", ");
}

type Formula = "epley" | "brzycki";

interface SheetProps {
  place: Place;
  session: string;
  work: SessionWork;
  row: WorkRow;
}

const FIELDS = [
  ["sets", "Sets"],
  ["reps", "Reps"],
  ["kg", "kg"],
  ["reserve", "Reserve"],
  ["rest", "Rest, s"],
  ["speed", "Bar, m/s"],
] as const;

function Sheet({ place, session, work, row }: SheetProps) {
  const sheet = useLifting(place, session, row);
  const { lines, wrong, estimate, save } = sheet;
  const [formula, setFormula] = useState<Formula>("epley");
  const may = place.may("edit_entries");
  const maxima = Object.fromEntries(row.maxima.map((one) => [one.exercise, one.kg]));
  return (
    <section className="pad-main" aria-label={`Lifting of ${row.name}`}>
      <header>
        <h2>{row.name}</h2>
        <span className="quiet">
          {sheet.tonnage > 0 ? <>{say.load(sheet.tonnage)} kg moved</> : "Type the first exercise."}
        </span>
        <span style={{ marginLeft: "auto", width: 190 }}>
          <Select
            size="xs"
            label="Estimated maximum after"
            value={formula}
            onChange={(next) => setFormula(next as Formula)}
          >
            <option value="epley">maximum after Epley</option>
            <option value="brzycki">maximum after Brzycki</option>
          </Select>
        </span>
      </header>
      <table className="lifting">
        <Heads />
        <tbody>
          {lines.map((line, i) => (
            <LineRow
              key={line.key}
              at={i}
              line={line}
              wrong={wrong.get(i)}
              max={maxima[line.exercise.trim()]}
              estimate={sheet.said(i)}
              formula={formula}
              readOnly={!may}
              onChange={(changes) => sheet.change(i, changes)}
            />
          ))}
        </tbody>
      </table>
      <datalist id="exercises">
        {work.exercises.map((exercise) => (
          <option key={exercise} value={exercise} />
        ))}
      </datalist>
      {wrong.size > 0 && (
        <p className="over" role="alert">
          {[...wrong.entries()]
            .map(([line, fields]) => `Line ${line + 1} lacks ${fields.join(", ")}.`)
            .join(" ")}
        </p>
      )}
      {estimate.error && <p className="over">{estimate.error.message}</p>}
      {save.error && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <p className="form-foot apart">
        Maxima are estimates from repetitions and reserve together, 1 to 12. A per cent is of the athlete’s
        best estimate (Epley) of the last 90 days and fills in the kilograms.
      </p>
      {may && (
        <Button
          size="sm"
          onClick={sheet.submit}
          loading={save.isPending}
          disabled={!sheet.touched || wrong.size > 0}
        >
          {sheet.saved ? "Saved" : "Save"}
        </Button>
      )}
    </section>
  );
}

function Heads() {
  return (
    <thead>
      <tr>
        <th scope="col">Exercise</th>
        {FIELDS.map(([field, name]) => (
          <th key={field} scope="col" className="number">
            {name}
          </th>
        ))}
        <th scope="col" className="number" title="Of the best estimate of the last 90 days">
          % of max
        </th>
        <th scope="col" className="number">
          Moved
        </th>
        <th scope="col" className="number">
          Est. max
        </th>
      </tr>
    </thead>
  );
}

interface LineRowProps {
  at: number;
  line: Line;
  wrong: string[] | undefined;
  /** The athlete's best estimate in this exercise. */
  max: number | undefined;
  estimate: Estimate | undefined;
  formula: Formula;
  readOnly: boolean;
  onChange: (changes: Partial<Line>) => void;
}

function LineRow({ at, line, wrong, max, estimate, formula, readOnly, onChange }: LineRowProps) {
  const kg = typedNumber(line.kg);
  return (
    <tr>
      <td>
        <input
          list="exercises"
          aria-label={`Exercise ${at + 1}`}
          maxLength={60}
          readOnly={readOnly}
          value={line.exercise}
          onChange={(event) => onChange({ exercise: event.target.value })}
        />
      </td>
      {FIELDS.map(([field, name]) => (
        <td key={field} className="number">
          <input
            inputMode="decimal"
            aria-label={`${name}, line ${at + 1}`}
            aria-invalid={wrong?.includes(field) ? true : undefined}
            readOnly={readOnly}
            value={line[field]}
            onFocus={(event) => event.target.select()}
            onChange={(event) => onChange({ [field]: event.target.value })}
          />
        </td>
      ))}
      <td className="number">
        <input
          inputMode="decimal"
          aria-label={`Per cent of maximum, line ${at + 1}`}
          readOnly={readOnly || !max}
          placeholder={max ? "" : "–"}
          title={max ? `${say.short(max)} kg is the best estimate of the last 90 days` : undefined}
          value={line.percent || (max && !Number.isNaN(kg) ? say.short((kg / max) * 100) : "")}
          onFocus={(event) => event.target.select()}
          onChange={(event) => onChange(ofMaximum(event.target.value, max))}
          onBlur={() => onChange({ percent: "" })}
        />
      </td>
      <td className="number figure quiet">
        {estimate && estimate.tonnage > 0 ? say.load(estimate.tonnage) : ""}
      </td>
      <td className="number figure">
        {estimate ? (estimate[formula] === null ? "over 12" : say.short(estimate[formula] ?? 0)) : ""}
      </td>
    </tr>
  );
}
