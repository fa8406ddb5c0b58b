import { Button } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem, type TestItem } from "../../api/client";
import { testingDayQuery, testsQuery } from "../../api/queries/athlete";
import { longDay, mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { Select } from "../../kit/fields";
import { SquadTabs } from "./SquadTabs";
import { TestForm } from "./TestForm";
import { TestGrid } from "./TestGrid";
import { TestPanel } from "./TestPanel";
import "../session/session.css";
import "./squad.css";
import "./accounts.css";
import "./tests.css";

/** Testing days: a test, a day, everyone's trials typed fast, and what changed by more than the test's own error. */
export default function TestsScreen({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const tests = useQuery(testsQuery(slug));
  const queries = useQueryClient();
  const [making, setMaking] = useState(false);
  const begin = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.POST("/api/squads/{slug}/tests/shipped", { params: { path: { slug } } })),
    onSuccess: () => askAgain(queries, [slug, "tests"]),
  });
  if (tests.isError)
    return (
      <Message title="The tests could not be loaded" action="Try again" onAction={() => tests.refetch()}>
        {tests.error.message}
      </Message>
    );
  if (!tests.data) return <SquadTabs place={place} />;
  const all = tests.data.tests;
  const test = all.find((one) => one.code === place.get("test")) ?? all[0];
  const edit = place.may("edit_forms");
  return (
    <>
      <SquadTabs place={place} />
      {!test || making ? (
        <>
          {all.length === 0 && !making && (
            <Message
              title="No test is set up yet"
              action="Begin with the usual ones"
              onAction={() => begin.mutate()}
            >
              Jumps, strength by side, range of motion, sprints, throws and maxima; you can change each.
            </Message>
          )}
          {(making || all.length === 0) && edit && (
            <TestForm
              place={place}
              test={null}
              onDone={(made) => {
                setMaking(false);
                if (made) place.set({ test: made.code }, true);
              }}
            />
          )}
        </>
      ) : (
        <Day key={test.code} place={place} all={all} test={test} onMake={() => setMaking(true)} />
      )}
    </>
  );
}

interface DayProps {
  place: Place;
  all: TestItem[];
  test: TestItem;
  onMake: () => void;
}

function Day({ place, all, test, onMake }: DayProps) {
  const day = useQuery(testingDayQuery(place.squad.slug, test.code, place.day));
  const [editing, setEditing] = useState(false);
  const data = day.data;
  const chosen = data?.rows.find((row) => String(row.athlete_id) === place.get("athlete"));
  const done = data?.rows.filter((row) => row.sides.some((side) => side.value !== null)).length ?? 0;
  const last = data?.days.filter((one) => one < place.day).at(-1);
  return (
    <>
      <div className="summary">
        <div className="test-choice">
          <Select
            label="Test"
            value={test.code}
            onChange={(code) => place.set({ test: code, athlete: null }, true)}
          >
            {all.map((one) => (
              <option key={one.code} value={one.code}>
                {one.name}
              </option>
            ))}
          </Select>
        </div>
        <h1>
          <b>{done}</b> tested on {mediumDay(place.day)}
        </h1>
        <div className="summary-end">
          {last && (
            <button type="button" className="text-button" onClick={() => place.set({ day: last })}>
              The day before: {mediumDay(last)}
            </button>
          )}
          {place.may("edit_forms") && (
            <Button size="xs" variant="outline" onClick={onMake}>
              New test
            </Button>
          )}
          <span>{longDay(place.day)}</span>
        </div>
      </div>
      <div className="desk">
        <div className="desk-main">
          {day.isError ? (
            <Message title="The day could not be loaded" action="Try again" onAction={() => day.refetch()}>
              {day.error.message}
            </Message>
          ) : (
            data && <TestGrid place={place} day={data} chosen={chosen?.athlete_id} />
          )}
        </div>
        <aside className="desk-side" aria-label="About the test">
          {editing ? (
            <TestForm key={test.code} place={place} test={test} onDone={() => setEditing(false)} />
          ) : chosen && data ? (
            <TestPanel key={`${test.code} ${chosen.athlete_id}`} place={place} day={data} row={chosen} />
          ) : (
            <>
              <h2 className="side-head">{test.name}</h2>
              <p>
                {test.trials === 1
                  ? "One trial"
                  : `${test.trials} trials, the ${test.combine === "best" ? "best" : "mean"} stands`}
                {test.sides && ", each side"}; {test.better} is better.
              </p>
              {test.protocol && <p>{test.protocol}</p>}
              <p>
                {data?.typical_error == null
                  ? "The typical error is not known yet: it needs two trials of several athletes. "
                  : `Typical error ${say.fine(data.typical_error)} ${test.unit}${data.error_basis === "as set" ? "" : `, ${data.error_basis}`}. `}
                {data?.worthwhile == null
                  ? "The smallest worthwhile change needs three athletes."
                  : `Smallest worthwhile change ${say.fine(data.worthwhile)} ${test.unit}${test.worthwhile === null ? ", 0.2 of the spread between athletes" : ""}.`}
              </p>
              <p className="quiet">A change counts when it is beyond both.</p>
              {place.may("edit_forms") && (
                <button type="button" className="text-button" onClick={() => setEditing(true)}>
                  Change this test
                </button>
              )}
            </>
          )}
        </aside>
      </div>
    </>
  );
}
