import { Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useMemo, useState } from "react";
import { askAgain } from "../../api/askAgain";
import {
  api,
  ask,
  type Grid,
  type Problem,
  type RecordingItem,
  type Recordings,
  type Traces,
} from "../../api/client";
import { recordingsQuery, tracesQuery } from "../../api/queries/session";
import { TracePlot } from "../../charts/TracePlot";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useWidth } from "../../frame/useWidth";
import { colour } from "../../theme/tokens";
import { type Part, SegmentStrip } from "./SegmentStrip";

const INSET: [number, number] = [44, 18];

const shown = (value: number | null | undefined, decimals = 0, unit = "") =>
  value == null ? "–" : (decimals ? say.short(value) : say.load(value)) + unit;
const share = (value: number | null) => (value === null ? "–" : `${Math.round(value * 100)} %`);

/** What devices recorded in a session: figures of everyone, and one athlete's traces with the parts of the session. */
export default function RecordingsView({ place, grid }: { place: Place; grid: Grid }) {
  const slug = place.squad.slug;
  const recordings = useQuery(recordingsQuery(slug, grid.id));
  if (recordings.isPending) return <Skeleton height="300px" m="5" />;
  if (recordings.isError)
    return (
      <Message
        title="The recordings could not be loaded"
        action="Try again"
        onAction={() => recordings.refetch()}
      >
        {recordings.error.message}
      </Message>
    );
  const found = recordings.data;
  if (found.recordings.length === 0)
    return (
      <Message
        title="Nothing was recorded in this session"
        action={place.may("import") ? "Bring in a file" : undefined}
        onAction={() => place.go("/squad/files")}
      >
        Files of straps, pods and shoe pods are matched to the session by their times.
      </Message>
    );
  const people = grid.rows.filter((row) => found.recordings.some((one) => one.athlete_id === row.athlete_id));
  const chosen = people.find((row) => String(row.athlete_id) === place.get("athlete")) ?? people[0];
  return (
    <div style={{ padding: "0 0 30px" }}>
      {chosen && (
        <TracePart
          key={chosen.athlete_id}
          place={place}
          grid={grid}
          athlete={chosen.athlete_id}
          name={chosen.name}
          recordings={found}
        />
      )}
      <FiguresTable place={place} people={people} chosen={chosen?.athlete_id} recordings={found.recordings} />
    </div>
  );
}

interface TracePartProps {
  place: Place;
  grid: Grid;
  athlete: number;
  name: string;
  recordings: Recordings;
}

function TracePart({ place, grid, athlete, name, recordings }: TracePartProps) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const [ref, width] = useWidth(900);
  const traces = useQuery(tracesQuery(slug, grid.id, athlete));
  const [parts, setParts] = useState<Part[]>(recordings.segments);
  // Somebody else's are shown when they come.
  useEffect(() => setParts(recordings.segments), [recordings.segments]);
  const { queryKey } = recordingsQuery(slug, grid.id);
  const save = useMutation<Recordings, Problem, Part[]>({
    // One after the other: each replaces what the one before made.
    scope: { id: `parts ${grid.id}` },
    mutationFn: (next) =>
      ask(
        api.PUT("/api/squads/{slug}/sessions/{session_id}/segments", {
          params: { path: { slug, session_id: grid.id } },
          body: {
            version: queries.getQueryData<Recordings>(queryKey)?.version ?? null,
            segments: next.map(({ name: title, begins, minutes, weight, grade }) => ({
              name: title,
              begins,
              minutes,
              weight,
              grade,
            })),
          },
        }),
      ),
    onSuccess: (found) => {
      queries.setQueryData(queryKey, found);
      askAgain(queries, [slug, "recordings", grid.id, athlete]);
      askAgain(queries, [slug, "session"]);
    },
    onError: (problem) => {
      toast(problem.message);
      setParts(recordings.segments);
      if (problem.status === 409) askAgain(queries, queryKey);
    },
  });
  const settle = (next: Part[]) => {
    const before = recordings.segments;
    save.mutate(next, {
      onSuccess: () =>
        toast("The parts of the session are moved.", () => {
          setParts(before);
          save.mutate(before);
        }),
    });
  };
  const seen = traces.data;
  const span = useMemo(() => spanOf(seen, grid.planned_minutes), [seen, grid.planned_minutes]);
  const edges = useMemo(
    () => parts.flatMap((part) => [part.begins * 60, (part.begins + part.minutes) * 60]),
    [parts],
  );
  const plot = { width, span, edges };
  return (
    <section aria-label={`Traces of ${name}`} className="traces" ref={ref}>
      {parts.length > 0 && seen && (
        <SegmentStrip
          parts={parts}
          span={[span[0] / 60, span[1] / 60]}
          width={width}
          inset={INSET}
          editable={place.may("edit_entries")}
          onMove={setParts}
          onSettle={settle}
        />
      )}
      {traces.isPending && <Skeleton height="260px" />}
      {traces.isError && (
        <p role="alert" className="over">
          {traces.error.message}
        </p>
      )}
      {seen?.heart_rate && (
        <TracePlot
          {...plot}
          line={seen.heart_rate}
          name="heart rate"
          unit="/min"
          stroke={colour.ink}
          label={`Heart rate of ${name} over the session`}
          axis={!seen.speed && !seen.impacts}
        />
      )}
      {seen?.speed && (
        <TracePlot
          {...plot}
          line={seen.speed}
          name="speed"
          unit="m/s"
          stroke={colour.kelp}
          label={`Speed of ${name} over the session`}
          axis={!seen.impacts}
        />
      )}
      {seen?.impacts && (
        <TracePlot
          {...plot}
          hits={seen.impacts}
          name="impacts"
          unit="g"
          stroke={colour.ink}
          height={120}
          label={`Impacts of ${name}, right above and left below the middle`}
          axis
        />
      )}
      {seen && <SegmentFigures traces={seen} name={name} />}
    </section>
  );
}

function spanOf(traces: Traces | undefined, planned: number): [number, number] {
  const times = [traces?.heart_rate?.t, traces?.speed?.t, traces?.impacts?.t].filter((t) => t?.length);
  const first = Math.min(0, ...times.map((t) => t?.[0] ?? 0));
  const last = Math.max(planned * 60, ...times.map((t) => t?.at(-1) ?? 0));
  return [first, last];
}

function SegmentFigures({ traces, name }: { traces: Traces; name: string }) {
  const rows = traces.segments.filter(
    ({ metrics }) => metrics.heart_rate ?? metrics.position ?? metrics.impacts,
  );
  if (rows.length === 0) return null;
  return (
    <table className="segment-figures" aria-label={`Figures of ${name} by part`}>
      <thead>
        <tr>
          <th scope="col">Part</th>
          <th scope="col">Heart rate, mean</th>
          <th scope="col">most</th>
          <th scope="col">Distance, m</th>
          <th scope="col">fast, m</th>
          <th scope="col">sprints</th>
          <th scope="col">Impacts, left · right</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ name: part, metrics: { heart_rate: heart, position: moved, impacts: hits } }) => (
          <tr key={part}>
            <th scope="row">{part}</th>
            <td>{shown(heart?.mean_hr)}</td>
            <td>{shown(heart?.max_hr)}</td>
            <td>{shown(moved?.distance)}</td>
            <td>{shown(moved?.distance_fast)}</td>
            <td>{shown(moved?.sprints)}</td>
            <td>{hits ? `${hits.left.count} · ${hits.right.count}` : "–"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface FiguresTableProps {
  place: Place;
  people: Grid["rows"];
  chosen: number | undefined;
  recordings: RecordingItem[];
}

const KINDS = { heart_rate: "heart rate", position: "speed", impacts: "impacts" } as const;

function FiguresTable({ place, people, chosen, recordings }: FiguresTableProps) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const count = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.POST("/api/squads/{slug}/recordings/{recording_id}/count", {
          params: { path: { slug, recording_id: id } },
        }),
      ),
    onSuccess: () => askAgain(queries, [slug]),
    onError: (problem) => toast(problem.message),
  });
  return (
    <table className="recordings-table">
      <thead>
        <tr>
          <th scope="col">Athlete</th>
          <th scope="col">Recorded</th>
          <th scope="col">min</th>
          <th scope="col">covered</th>
          <th scope="col">dropped</th>
          <th scope="col">What it comes to</th>
          <th scope="col">
            <span className="visually-hidden">Counts</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {people.flatMap((person) =>
          recordings
            .filter((one) => one.athlete_id === person.athlete_id)
            .map((one, i) => (
              <tr key={one.id} className={person.athlete_id === chosen ? "chosen" : undefined}>
                <th scope="row">
                  {i === 0 && (
                    <button
                      type="button"
                      className="text-button plain"
                      onClick={() => place.set({ athlete: String(person.athlete_id) }, true)}
                    >
                      {person.name}
                    </button>
                  )}
                </th>
                <td>
                  {KINDS[one.kind]} <span className="quiet">{one.device}</span>
                </td>
                <td className="figure">{shown(one.seconds / 60)}</td>
                <td className={one.coverage !== null && one.coverage < 0.8 ? "figure over" : "figure"}>
                  {share(one.coverage)}
                  {one.coverage !== null && one.coverage < 0.8 && " – doubtful"}
                </td>
                <td className="figure">{say.load(one.dropped)}</td>
                <td>{sum(one)}</td>
                <td>
                  {one.counts ? (
                    ""
                  ) : (
                    <>
                      <span className="quiet">not counted </span>
                      {place.may("import") && (
                        <button type="button" className="text-button" onClick={() => count.mutate(one.id)}>
                          Count this one
                        </button>
                      )}
                    </>
                  )}
                </td>
              </tr>
            )),
        )}
      </tbody>
    </table>
  );
}

/** A recording's figures in a line. */
function sum({
  metrics: { heart_rate: heart, position: moved, impacts: hits, fast },
}: RecordingItem): string {
  if (heart) {
    const zones = heart.three_zone_minutes;
    return [
      `mean ${shown(heart.mean_hr)}, most ${shown(heart.max_hr)}`,
      heart.banister === null ? "" : `impulse ${shown(heart.banister)}`,
      zones ? `three zones ${zones.map((minutes) => say.short(minutes)).join(" / ")} min` : "",
    ]
      .filter(Boolean)
      .join(" · ");
  }
  if (moved) {
    const peaks = moved.peak_distance_per_minute;
    return [
      `${shown(moved.distance)} m`,
      `${shown(moved.distance_fast)} m above ${say.short(fast ?? 0)} m/s`,
      `${shown(moved.sprints)} sprints`,
      `most in 1 min ${shown(peaks["1"])} m, in 5 min ${shown(peaks["5"])} m/min`,
    ].join(" · ");
  }
  if (!hits) return "";
  const uneven = hits.asymmetry_percent;
  return `left ${hits.left.count}, right ${hits.right.count}${
    uneven === null || !hits.stronger
      ? ""
      : ` · ${hits.stronger} takes more, asymmetry ${Math.round(uneven)} %`
  }`;
}
