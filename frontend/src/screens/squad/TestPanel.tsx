import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type TestDay, type TestRow } from "../../api/client";
import { testingDayQuery, testSeriesQuery } from "../../api/queries/athlete";
import { TestSeries } from "../../charts/TestSeries";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";

interface PanelProps {
  place: Place;
  day: TestDay;
  row: TestRow;
}

/** An athlete in one test: all results with the band of the typical error, the sides, and a plate's file. */
export function TestPanel({ place, day, row }: PanelProps) {
  const { test } = day;
  const series = useQuery(testSeriesQuery(place.squad.slug, test.code, row.athlete_id));
  const sides = test.sides ? (["left", "right"] as const) : ([""] as const);
  return (
    <>
      <h2 className="side-head">{row.name}</h2>
      <p className="quiet">
        {test.name}, {test.unit}
      </p>
      {series.data && series.data.points.length > 0 ? (
        <TestSeries
          label={`${test.name} of ${row.name}`}
          error={series.data.typical_error}
          unit={test.unit}
          lines={sides.map((side) => ({
            side,
            points: series.data.points.filter((point) => point.side === side),
          }))}
        />
      ) : (
        <p className="quiet">No result yet.</p>
      )}
      {row.matters && (
        <p>
          The sides differ by more than 10 % and more than their own norm, three tests running. Look in this
          order: range of motion by joint, then strength by joint; where both are even it is use, not
          capacity. What follows is for qualified staff to decide.
        </p>
      )}
      {place.may("edit_entries") && <PlateFile place={place} day={day} row={row} />}
      <button type="button" className="text-button" onClick={() => place.set({ athlete: null }, true)}>
        Close
      </button>
    </>
  );
}

/** Reads a jump plate's file, says what it comes to, and puts a figure in as the next trial. */
function PlateFile({ place, day, row }: PanelProps) {
  const queries = useQueryClient();
  const { test } = day;
  const only = row.sides[0];
  const done = only?.trials.filter((trial) => trial !== null) ?? [];
  const full = done.length >= test.trials;
  const put = useMutation<TestDay, Problem, number>({
    mutationFn: (value) =>
      ask(
        api.PUT("/api/squads/{slug}/tests/{code}/results", {
          params: { path: { slug: place.squad.slug, code: test.code } },
          body: {
            day: place.day,
            results: [
              {
                athlete_id: row.athlete_id,
                side: "",
                trials: [...done, Math.round(value * 1000) / 1000],
                version: only?.version ?? null,
                sure: false,
              },
            ],
          },
        }),
      ),
    onSuccess: (saved) => {
      queries.setQueryData(testingDayQuery(place.squad.slug, test.code, place.day).queryKey, saved);
      askAgain(queries, [place.squad.slug, "tests", test.code, row.athlete_id]);
    },
  });
  const [drop, setDrop] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const read = useMutation<{ metrics: { name: string; value: number; unit: string }[] }, Problem, File>({
    mutationFn: async (file) =>
      ask(
        api.POST("/api/squads/{slug}/tests/trace", {
          params: { path: { slug: place.squad.slug } },
          body: { content: await file.text(), drop },
        }),
      ),
  });
  return (
    <section aria-label="From a jump plate">
      <h3 className="side-head">From a jump plate</h3>
      <label className="tick-line">
        <input type="checkbox" checked={drop} onChange={(event) => setDrop(event.target.checked)} /> After a
        drop
      </label>
      <p>
        <button type="button" className="text-button" onClick={() => picker.current?.click()}>
          Read a force trace
        </button>{" "}
        <span className="quiet">(CSV: time, left, right)</span>
        <input
          ref={picker}
          type="file"
          accept=".csv,.txt,.tsv"
          className="visually-hidden"
          tabIndex={-1}
          aria-label="Force trace"
          onChange={(event) => {
            const file = event.target.files?.[0];
            if (file) read.mutate(file);
            event.target.value = "";
          }}
        />
      </p>
      {read.isError && (
        <p role="alert" className="over">
          {read.error.message}
        </p>
      )}
      {read.data && (
        <dl className="metrics">
          {read.data.metrics.map((one) => (
            <div key={one.name}>
              <dt>{one.name}</dt>
              <dd className="figure">
                {say.fine(one.value)} {one.unit}
                {one.unit === test.unit && !test.sides && !full && (
                  <button
                    type="button"
                    className="text-button"
                    aria-label={`${one.name}: put in as trial ${done.length + 1}`}
                    disabled={put.isPending}
                    onClick={() => put.mutate(one.value)}
                  >
                    trial {done.length + 1}
                  </button>
                )}
              </dd>
            </div>
          ))}
        </dl>
      )}
      {put.isError && (
        <p role="alert" className="over">
          {put.error.message}
        </p>
      )}
    </section>
  );
}
