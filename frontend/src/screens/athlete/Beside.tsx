/** What stands beside the time axis: the values of a day, and how things stand now. */

import { Link } from "react-router";
import type { Evidence, Lane, NoticeRun, Timeline } from "../../api/client";
import { LimitBar } from "../../charts/LimitBar";
import { Notch } from "../../charts/Notch";
import { RecoveryWindows } from "../../charts/RecoveryWindows";
import { SCHOOL_NAMES } from "../../charts/TimeRows";
import { longDay, mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { callName, turnedText } from "../morning/words";

interface ReadoutProps {
  timeline: Timeline;
  runs: NoticeRun[];
  at: number;
  place: Place;
  beside: { name: string; week: (number | null)[] } | null;
}

/** The values of one day, in words and numbers. */
export function Readout({ timeline, runs, at, place, beside }: ReadoutProps) {
  const day = timeline.days[at] ?? "";
  const said = timeline.items.filter((item) => item.value[at] != null);
  const worked = Object.entries(timeline.minutes).filter(([, minutes]) => (minutes[at] ?? 0) > 0);
  const noticed = runs.filter((run) => run.first <= day && day <= run.last);
  const zones = timeline.zones?.minutes.map((zone) => zone[at] ?? 0) ?? [];
  const out = timeline.breaks.find((one) => one.first <= day && day <= one.last);
  return (
    <section aria-live="polite" className="readout">
      <h2>{longDay(day)}</h2>
      {out && <p className="allowed">{out.why}</p>}
      <table className="figures-table">
        <tbody>
          {timeline.channels.map(({ channel, strip }) => (
            <tr key={channel.code}>
              <th scope="row">{channel.name}, week</th>
              <td className="figure">
                {strip.week[at] == null ? "–" : say.load(strip.week[at] ?? 0)}{" "}
                <span className="quiet">
                  {strip.floor[at] != null || strip.ceiling[at] != null
                    ? `(${strip.floor[at] == null ? "" : say.load(strip.floor[at] ?? 0)}–${
                        strip.ceiling[at] == null ? "" : say.load(strip.ceiling[at] ?? 0)
                      })`
                    : ""}
                </span>
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">Load of the day</th>
            <td className="figure">
              {timeline.channels[0]?.strip.state[at] === "missing"
                ? "not rated"
                : say.load(timeline.channels[0]?.strip.load[at] ?? 0)}
            </td>
          </tr>
          {beside && (
            <tr>
              <th scope="row">{beside.name}, week</th>
              <td className="figure">{beside.week[at] == null ? "–" : say.load(beside.week[at] ?? 0)}</td>
            </tr>
          )}
          {timeline.schools.map((school) => (
            <tr key={school.code}>
              <th scope="row">Ratio, {SCHOOL_NAMES[school.code]}</th>
              <td className="figure">
                {school.ratio[at] == null ? "withheld" : (school.ratio[at] ?? 0).toFixed(2)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {worked.length > 0 && (
        <p>{worked.map(([kind, minutes]) => `${kind} ${say.short(minutes[at] ?? 0)} min`).join(", ")}</p>
      )}
      {zones.some((minutes) => minutes > 0) && (
        <p>
          In zones {zones.map((minutes, i) => `${i + 1}: ${say.short(Math.round(minutes))}`).join(", ")} min
        </p>
      )}
      {said.length > 0 && (
        <p>
          {said.map((item) => (
            <span key={item.item} className={(item.z[at] ?? 0) <= -1 ? "missing" : undefined}>
              {item.name} {say.short(item.value[at] ?? 0)}
              {item === said.at(-1) ? "" : ", "}
            </span>
          ))}
        </p>
      )}
      {noticed.map((run) => (
        <NoticedLine key={run.code + run.channel + run.sentence} notice={run} />
      ))}
      <p>
        <Link
          className="text-button"
          to={place.to("/morning", { day, athlete: String(timeline.athlete_id) })}
        >
          Open this morning
        </Link>
      </p>
    </section>
  );
}

export function Calls({ timeline }: { timeline: Timeline }) {
  if (timeline.calls.length === 0) return null;
  return (
    <section className="section">
      <h2>Calls and what came of them</h2>
      {timeline.calls.slice(0, 12).map((one) => (
        <p key={one.call.id}>
          {mediumDay(one.day)}: <b>{callName(one.call.kind)}</b>
          {one.call.reason && ` (${one.call.reason})`}. <span className="quiet">{turnedText(one)}</span>
        </p>
      ))}
    </section>
  );
}

function NoticedLine({ notice }: { notice: Pick<NoticeRun, "shape" | "severity" | "channel" | "sentence"> }) {
  return (
    <p className="noticed-line">
      <Notch shape={notice.shape} severity={notice.severity} label={notice.severity} />
      <span>
        {notice.channel && `${notice.channel}: `}
        {notice.sentence}
      </span>
    </p>
  );
}

/** What asks for something this morning; the evidence is a link away. */
export function OpenNotices({ place, lane }: { place: Place; lane: Lane }) {
  const open = lane.notices.filter((notice) => !notice.quiet);
  return (
    <section className="section">
      <h2>
        Open notices{" "}
        <Link className="text-button" to={place.to("/morning", { athlete: String(lane.athlete_id) })}>
          evidence
        </Link>
      </h2>
      {open.length === 0 && <p className="quiet">Nothing is open.</p>}
      {open.map((notice) => (
        <NoticedLine key={notice.code + notice.sentence} notice={notice} />
      ))}
    </section>
  );
}

/** Every limit in force with its figure now, against its value. */
export function LimitsNow({ limits }: { limits: Evidence["limits"] }) {
  return (
    <section className="section">
      <h2>
        Limits in force <span>figure and limit, as they stand</span>
      </h2>
      {limits.map((limit) => (
        <div key={limit.channel + limit.key} className="limit-now" title={limit.provenance}>
          <span>
            {limit.channel && `${limit.channel}: `}
            {limit.title}
            <small>{limit.hard ? "hard" : "advisory"}</small>
          </span>
          {limit.figure === null || limit.silent ? (
            <span className="quiet">rests{limit.silent && `: ${limit.silent}`}</span>
          ) : (
            <>
              <span className="figure">
                <b className={limit.over ? "over" : undefined}>{limit.figure_text}</b>
                <small>of {limit.value_text}</small>
              </span>
              <LimitBar figure={limit.figure} value={limit.value} floor={limit.floor} />
            </>
          )}
        </div>
      ))}
    </section>
  );
}

/** Recovery windows, as ranges: a picture for planning. */
export function OpenWindows({ timeline }: { timeline: Timeline }) {
  if (timeline.windows.length === 0) return null;
  return (
    <section className="section">
      <h2>
        Recovery windows still open <span>ranges, not measured</span>
      </h2>
      <RecoveryWindows windows={timeline.windows} asOf={timeline.as_of} />
    </section>
  );
}
