import { Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, type PointerEvent, useMemo, useState } from "react";
import { Link } from "react-router";
import type { Evidence, NoticeRun, Timeline } from "../../api/client";
import { noticedQuery, positionQuery, timelineQuery } from "../../api/queries/athlete";
import { peopleQuery } from "../../api/queries/frame";
import { evidenceQuery } from "../../api/queries/morning";
import { placeAt, type Span, TimeAxis } from "../../charts/TimeAxis";
import { SCHOOL_NAMES } from "../../charts/TimeRows";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useWidth } from "../../frame/useWidth";
import { Select } from "../../kit/fields";
import { roomText } from "../morning/words";
import { Arithmetic } from "./Arithmetic";
import { Calls, LimitsNow, OpenNotices, OpenWindows, Readout } from "./Beside";
import { Brush } from "./Brush";
import { Notes } from "./Notes";
import "../morning/evidence.css";
import "./athlete.css";

const NONE: NoticeRun[] = [];
const WINDOWS = [
  { name: "6 weeks", days: 50 },
  { name: "12 weeks", days: 92 },
  { name: "half a year", days: 190 },
  { name: "all", days: 100_000 },
];

/** One person on one time axis. */
export default function AthleteScreen({ place }: { place: Place }) {
  const squad = useQuery(peopleQuery(place.squad.slug, place.day));
  const asked = Number(place.get("athlete"));
  const people = [...(squad.data?.athletes ?? [])].sort((a, b) => a.name.localeCompare(b.name));
  const athlete = asked || people[0]?.athlete_id;
  const timeline = useQuery({
    ...timelineQuery(place.squad.slug, place.day, athlete ?? 0),
    enabled: athlete !== undefined,
  });
  const evidence = useQuery({
    ...evidenceQuery(place.squad.slug, place.day, athlete ?? 0, null, false),
    enabled: athlete !== undefined,
  });
  if (timeline.isError || squad.isError)
    return (
      <Message
        title="This athlete could not be shown"
        action="Go to the desk"
        onAction={() => place.go("/morning")}
      >
        {(timeline.error ?? squad.error)?.message}
      </Message>
    );
  if (squad.data && athlete === undefined)
    return (
      <Message
        title="Nobody is in this squad on that day"
        action="See what comes first"
        onAction={() => place.go("/morning")}
      >
        There is no picture of anybody yet: athletes belong to a squad from a day on.
      </Message>
    );
  return (
    <>
      <div className="summary">
        <h1>
          <b>{timeline.data?.name ?? "Athlete"}</b>
          {timeline.data && <span className="quiet"> {timeline.data.position}</span>}
          {evidence.data && <Lead evidence={evidence.data} timeline={timeline.data} />}
        </h1>
        <div className="summary-end">
          <Select
            size="xs"
            label="Athlete"
            value={String(athlete ?? "")}
            onChange={(value) => place.set({ athlete: value })}
          >
            {people.map((one) => (
              <option key={one.athlete_id} value={one.athlete_id}>
                {one.name}
              </option>
            ))}
          </Select>
          <Link className="text-button" to={place.to("/morning", { athlete: String(athlete ?? "") })}>
            The morning of {mediumDay(place.day)}
          </Link>
          <button type="button" className="text-button" onClick={() => window.print()}>
            Print
          </button>
        </div>
      </div>
      {timeline.data ? (
        <Page
          key={timeline.data.athlete_id}
          place={place}
          timeline={timeline.data}
          evidence={evidence.data}
          people={people}
        />
      ) : (
        <Skeleton height="480px" m="5" />
      )}
    </>
  );
}

/** Where the week load stands, and the room there is, in one sentence. */
function Lead({ evidence, timeline }: { evidence: Evidence; timeline: Timeline | undefined }) {
  const { room } = evidence.lane;
  const yesterday = (timeline?.days.indexOf(timeline.as_of) ?? 0) - 1;
  const week = timeline?.channels[0]?.strip.week[yesterday];
  const base = timeline?.base[yesterday];
  return (
    <span className="athlete-lead">
      {week != null && (
        <>
          Week load <b>{say.load(week)}</b>
          {base != null && <> on a base of {say.load(base)}</>}.{" "}
        </>
      )}
      {room.closed ? (
        <>
          Room is <b>closed</b> today: {room.words}.
        </>
      ) : room.load === null ? (
        room.words
      ) : (
        <>
          Room today <b>{roomText(evidence.lane)}</b>
          {room.bound_by && <>, held by the {room.bound_by}</>}.
        </>
      )}
    </span>
  );
}

interface PageProps {
  place: Place;
  timeline: Timeline;
  evidence: Evidence | undefined;
  people: { athlete_id: number; name: string }[];
}

function Page({ place, timeline, evidence, people }: PageProps) {
  const [ref, width] = useWidth(900);
  const days = useDays(place, timeline);
  const { span, setSpan, at } = days;
  const schools = (place.get("schools") ?? "ewma").split(",").filter((code) => code in SCHOOL_NAMES);
  const beside = useBeside(place, timeline);
  const noticed = useQuery(noticedQuery(place.squad.slug, place.day, timeline.athlete_id));
  const runs = noticed.data?.runs ?? NONE;
  // A figure that is opened stands first: a link may have come for it.
  const opened = place.get("figure") !== null;
  const arithmetic = <Arithmetic place={place} athlete={timeline.athlete_id} items={timeline.items} />;
  return (
    <div className="athlete">
      <div className="athlete-main">
        <AxisTools place={place} timeline={timeline} people={people} schools={schools} onSpan={setSpan} />
        {schools.length > 0 && (
          <ul className="school-words">
            {timeline.schools
              .filter((school) => schools.length > 1 && schools.includes(school.code))
              .map((school) => (
                <li key={school.code}>{school.words}</li>
              ))}
          </ul>
        )}
        {beside && (
          <p className="school-words">
            Dashed: week load of {beside.name}. A comparison says nothing of what this person can take.
          </p>
        )}
        <Brush timeline={timeline} span={span} width={width} onSpan={setSpan} />
        <div
          ref={ref}
          className="athlete-axis"
          role="group"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the arrow keys walk through the days
          tabIndex={0}
          aria-label="Days; the arrow keys go through them, Enter opens the morning"
          onKeyDown={days.onKey}
          onPointerMove={(event: PointerEvent<HTMLDivElement>) =>
            days.setAt(placeAt(event.clientX, event.currentTarget.getBoundingClientRect(), span))
          }
        >
          <TimeAxis
            timeline={timeline}
            runs={runs}
            span={span}
            width={width}
            at={at}
            beside={beside}
            schools={schools}
          />
        </div>
      </div>
      <aside className="athlete-side" aria-label="Readout">
        {opened && arithmetic}
        <Readout timeline={timeline} runs={runs} at={at} place={place} beside={beside} />
        {evidence && <OpenNotices place={place} lane={evidence.lane} />}
        {evidence && <LimitsNow limits={evidence.limits} />}
        <OpenWindows timeline={timeline} />
        {!opened && arithmetic}
        <Calls timeline={timeline} />
        <Notes place={place} athlete={timeline.athlete_id} />
        <p className="small">
          Supports the judgement of qualified staff. It is no diagnosis, and load figures do not predict
          injury.{" "}
          <Link className="text-button" to={place.to("/method")}>
            How it is worked out
          </Link>
        </p>
      </aside>
    </div>
  );
}

/** The days in sight and the one that is looked at; the arrow keys walk through them. */
function useDays(place: Place, timeline: Timeline) {
  const count = timeline.days.length;
  const today = timeline.days.indexOf(timeline.as_of);
  const [first = -1, last = -1] = (place.get("span") ?? "")
    .split("~")
    .map((day) => timeline.days.indexOf(day));
  const span: Span =
    first >= 0 && last > first ? { from: first, to: last } : { from: Math.max(0, count - 92), to: count - 1 };
  const setSpan = (next: Span) => {
    const from = Math.max(0, Math.min(next.from, count - 8));
    const to = Math.min(count - 1, Math.max(next.to, from + 7));
    place.set({ span: `${timeline.days[from]}~${timeline.days[to]}` }, true);
  };
  const [at, setAt] = useState(Math.max(0, today - 1));
  const onKey = (event: KeyboardEvent) => {
    const step = event.shiftKey ? 7 : 1;
    const move = { ArrowLeft: -step, ArrowRight: step }[event.key];
    if (move === undefined) {
      if (event.key === "Enter")
        place.go("/morning", { day: timeline.days[at] ?? place.day, athlete: String(timeline.athlete_id) });
      return;
    }
    event.preventDefault();
    event.stopPropagation();
    const next = Math.max(0, Math.min(count - 1, at + move));
    setAt(next);
    if (next < span.from) setSpan({ from: next, to: span.to - (span.from - next) });
    if (next > span.to) setSpan({ from: span.from + (next - span.to), to: next });
  };
  return { span, setSpan, at, setAt, onKey };
}

interface AxisToolsProps {
  place: Place;
  timeline: Timeline;
  people: PageProps["people"];
  schools: string[];
  onSpan: (span: Span) => void;
}

/** How much of the axis is shown, by which schools, and beside whom. */
function AxisTools({ place, timeline, people, schools, onSpan }: AxisToolsProps) {
  const count = timeline.days.length;
  return (
    <div className="athlete-tools">
      {WINDOWS.map((one) => (
        <button
          key={one.name}
          type="button"
          className="text-button"
          onClick={() => onSpan({ from: Math.max(0, count - one.days), to: count - 1 })}
        >
          {one.name}
        </button>
      ))}
      <fieldset>
        <legend>Ratio by</legend>
        {Object.entries(SCHOOL_NAMES).map(([code, name]) => (
          <label key={code}>
            <input
              type="checkbox"
              checked={schools.includes(code)}
              onChange={() => {
                const after = schools.includes(code)
                  ? schools.filter((one) => one !== code)
                  : [...schools, code];
                place.set({ schools: after.join(",") || "none" }, true);
              }}
            />{" "}
            {name}
          </label>
        ))}
      </fieldset>
      <Select
        size="xs"
        label="Compare with"
        value={place.get("with") ?? ""}
        onChange={(value) => place.set({ with: value || null }, true)}
      >
        <option value="">compare with …</option>
        <option value="position">mean of the position</option>
        {people
          .filter((one) => one.athlete_id !== timeline.athlete_id)
          .map((one) => (
            <option key={one.athlete_id} value={one.athlete_id}>
              {one.name}
            </option>
          ))}
      </Select>
    </div>
  );
}

/** Week load to lay beside: another athlete's, on the same days, or the mean of the position. */
function useBeside(place: Place, timeline: Timeline) {
  const asked = place.get("with");
  const other = asked && asked !== "position" ? Number(asked) : 0;
  const position = useQuery({
    ...positionQuery(place.squad.slug, place.day, timeline.athlete_id),
    enabled: asked === "position",
  });
  const theirs = useQuery({ ...timelineQuery(place.squad.slug, place.day, other), enabled: other > 0 });
  return useMemo(() => {
    if (asked === "position" && position.data)
      return { name: `the others at ${timeline.position}, mean`, week: position.data.week };
    const found = theirs.data;
    if (!other || !found) return null;
    const at = new Map(found.days.map((day, i) => [day, i]));
    const week = found.channels[0]?.strip.week ?? [];
    return { name: found.name, week: timeline.days.map((day) => week[at.get(day) ?? -1] ?? null) };
  }, [asked, other, position.data, theirs.data, timeline]);
}
