import { Button } from "@chakra-ui/react";
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useState } from "react";
import { api, ask, type SessionWork, type WorkRow } from "../../api/client";
import { workQuery } from "../../api/queries";
import { Select, typedNumber } from "../../frame/fields";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { AthleteList, chosenOf } from "./AthleteList";
import { emptyLine, type Line, lineFrom, sentLines } from "./lifts";
import { useWork } from "./useWork";

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
  const version = chosen.works.find((one) => one.what === "lifting")?.version ?? 0;
  return (
    <div className="pad">
      <AthleteList place={place} rows={rows} chosen={chosen} said={(row) => lifted(row, sheet)} />
      <Sheet
        key={`${chosen.athlete_id} ${version}`}
        place={place}
        session={session}
        work={sheet}
        row={chosen}
      />
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
  const save = useWork(place, session);
  const standing = row.works.find((one) => one.what === "lifting");
  const [lines, setLines] = useState<Line[]>(() => {
    const items = (standing?.data.items as Record<string, unknown>[] | undefined) ?? [];
    return [...items.map(lineFrom), emptyLine()];
  });
  const [touched, setTouched] = useState(false);
  const [formula, setFormula] = useState<"epley" | "brzycki">("epley");
  const may = place.may("edit_entries");
  const maxima = Object.fromEntries(row.maxima.map((one) => [one.exercise, one.kg]));
  const { items, at, wrong } = sentLines(lines);
  const asked = useDeferredValue(JSON.stringify(items));
  const estimate = useQuery({
    queryKey: [place.squad.slug, "estimate", asked],
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/lifting/estimate", {
          params: { path: { slug: place.squad.slug } },
          body: { items: JSON.parse(asked) },
        }),
      ),
    placeholderData: keepPreviousData,
    enabled: items.length > 0,
    retry: false,
  });
  const said = (line: number) => {
    const index = at.indexOf(line);
    return index < 0 ? undefined : estimate.data?.items[index];
  };
  const change = (i: number, changes: Partial<Line>) => {
    setTouched(true);
    setLines((before) => {
      const next = before.map((line, other) => (other === i ? { ...line, ...changes } : line));
      return next.at(-1)?.exercise ? [...next, emptyLine()] : next;
    });
  };
  const tonnage = items.length ? (estimate.data?.items.reduce((sum, one) => sum + one.tonnage, 0) ?? 0) : 0;
  const submit = () => {
    setTouched(false);
    save.mutate(
      [
        {
          athlete_id: row.athlete_id,
          what: "lifting",
          data: items.length ? { items } : null,
          version: standing?.version ?? null,
        },
      ],
      { onError: () => setTouched(true) },
    );
  };
  return (
    <section className="pad-main" aria-label={`Lifting of ${row.name}`}>
      <header>
        <h2>{row.name}</h2>
        <span className="quiet">
          {tonnage > 0 ? <>{say.load(tonnage)} kg moved</> : "Type the first exercise."}
        </span>
        <span style={{ marginLeft: "auto", width: 190 }}>
          <Select
            size="xs"
            label="Estimated maximum after"
            value={formula}
            onChange={(next) => setFormula(next as "epley" | "brzycki")}
          >
            <option value="epley">maximum after Epley</option>
            <option value="brzycki">maximum after Brzycki</option>
          </Select>
        </span>
      </header>
      <table className="lifting">
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
        <tbody>
          {lines.map((line, i) => {
            const max = maxima[line.exercise.trim()];
            const kg = typedNumber(line.kg);
            const one = said(i);
            return (
              <tr key={line.key}>
                <td>
                  <input
                    list="exercises"
                    aria-label={`Exercise ${i + 1}`}
                    maxLength={60}
                    readOnly={!may}
                    value={line.exercise}
                    onChange={(event) => change(i, { exercise: event.target.value })}
                  />
                </td>
                {FIELDS.map(([field, name]) => (
                  <td key={field} className="number">
                    <input
                      inputMode="decimal"
                      aria-label={`${name}, line ${i + 1}`}
                      aria-invalid={wrong.get(i)?.includes(field) ? true : undefined}
                      readOnly={!may}
                      value={line[field]}
                      onFocus={(event) => event.target.select()}
                      onChange={(event) => change(i, { [field]: event.target.value })}
                    />
                  </td>
                ))}
                <td className="number">
                  <input
                    inputMode="decimal"
                    aria-label={`Per cent of maximum, line ${i + 1}`}
                    readOnly={!may || !max}
                    placeholder={max ? "" : "–"}
                    title={max ? `${say.short(max)} kg is the best estimate of the last 90 days` : undefined}
                    value={line.percent || (max && !Number.isNaN(kg) ? say.short((kg / max) * 100) : "")}
                    onFocus={(event) => event.target.select()}
                    onChange={(event) => {
                      const share = typedNumber(event.target.value);
                      change(i, {
                        percent: event.target.value,
                        // To the plates there are: half a kilogram is the smallest step.
                        ...(max && !Number.isNaN(share)
                          ? { kg: String(Math.round((share / 100) * max * 2) / 2) }
                          : {}),
                      });
                    }}
                    onBlur={() => change(i, { percent: "" })}
                  />
                </td>
                <td className="number figure quiet">{one && one.tonnage > 0 ? say.load(one.tonnage) : ""}</td>
                <td className="number figure">
                  {one ? (one[formula] === null ? "over 12" : say.short(one[formula] ?? 0)) : ""}
                </td>
              </tr>
            );
          })}
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
      <p className="quiet" style={{ fontSize: 12.5 }}>
        Maxima are estimates from repetitions and reserve together, 1 to 12. A per cent is of the athlete’s
        best estimate (Epley) of the last 90 days and fills in the kilograms.
      </p>
      {may && (
        <Button size="sm" onClick={submit} loading={save.isPending} disabled={!touched || wrong.size > 0}>
          {touched ? "Save" : standing ? "Saved" : "Save"}
        </Button>
      )}
    </section>
  );
}
