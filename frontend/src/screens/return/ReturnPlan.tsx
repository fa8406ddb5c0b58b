import { useState } from "react";
import type { ReturnWhole } from "../../api/client";
import { ClimbPlot, ownLanes } from "../../charts/ClimbPlot";
import { mediumDay, shortDay } from "../../frame/days";
import { load } from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { ChangeReturn } from "./ChangeReturn";
import { Ways } from "./Ways";
import { WithoutLoad } from "./WithoutLoad";

interface Props {
  place: Place;
  whole: ReturnWhole;
  at: number;
  of: number;
}

/** One who comes back: whether it fits, what today holds, the climb, and three ways where it does not fit. */
export function ReturnPlan({ place, whole, at, of }: Props) {
  const { row } = whole;
  const [all, setAll] = useState(false);
  const others = whole.lanes.length - ownLanes(whole).length;
  return (
    <>
      <header className="return-head">
        <h2>{row.name}</h2>
        <span className="quiet">
          {[row.position, row.number].filter(Boolean).join(", ")} · {row.what}
          {row.first_off && `, off from ${mediumDay(row.first_off)}`}
        </span>
        <span className="keys">
          {at + 1} of {of} <kbd>k</kbd> <kbd>j</kbd>
        </span>
      </header>
      <p className="return-said">{row.short}</p>
      <Today whole={whole} />
      {whole.lanes.length > 0 && <ClimbPlot whole={whole} all={all} />}
      {others > 0 && (
        <button type="button" className="text-button return-more" onClick={() => setAll(!all)}>
          {all ? "Only what climbs on its own" : `${others} more channels climb with the first`}
        </button>
      )}
      {whole.of_match.length > 0 && <OfMatch whole={whole} />}
      {whole.ways.length > 0 && <Ways place={place} whole={whole} />}
      <p className="return-decides">
        <b>A clinician decides.</b> These sums show what fits a date; they do not show what has healed.
      </p>
      {place.may("plan_returns") && <ChangeReturn key={whole.version} place={place} whole={whole} />}
      <WithoutLoad place={place} whole={whole} />
      <Events whole={whole} />
    </>
  );
}

/** What today holds: with the plan kept, channel by channel, and what is in it. */
function Today({ whole }: { whole: ReturnWhole }) {
  const [main, ...others] = ownLanes(whole);
  return (
    <p className="return-today">
      Today{" "}
      {main?.room != null && (
        <>
          <b>{load(Math.max(0, Math.floor(main.room)))}</b>
          {main.room_words && `: ${main.room_words}`}
        </>
      )}
      {others.map(
        (lane) =>
          lane.room !== null && (
            <span key={lane.code}>
              {" · "}
              <b>{load(Math.max(0, Math.floor(lane.room)))}</b>{" "}
              {lane.unit === lane.name.toLowerCase() ? "" : lane.name.toLowerCase()}
              {lane.unit === lane.name.toLowerCase() ? lane.unit : ` (${lane.unit})`}
            </span>
          ),
      )}
      {whole.allowed.length > 0 && ` · ${whole.allowed.join(" · ")}`}
    </p>
  );
}

/** What a day may hold on the target day, of a match of the position. */
function OfMatch({ whole }: { whole: ReturnWhole }) {
  return (
    <section className="return-match" aria-label="In per cent of a match">
      <span className="quiet">
        A day on {whole.row.target && shortDay(whole.row.target)}, {whole.of_match_said}:
      </span>
      {whole.of_match.map((one) => (
        <span key={one.name} className="return-bar">
          {one.name}
          <span className="bar">
            <span style={{ width: `${Math.min(100, one.percent)}%` }} />
          </span>
          <b>{Math.round(one.percent)} %</b>
        </span>
      ))}
    </section>
  );
}

function Events({ whole }: { whole: ReturnWhole }) {
  return (
    <details className="return-events">
      <summary>
        What happened so far <span className="quiet">{whole.events.length}</span>
      </summary>
      <ul>
        {whole.events.map((one) => (
          <li key={`${one.day} ${one.said} ${one.by}`}>
            <span className="quiet">
              {shortDay(one.day)}, {one.by}
            </span>{" "}
            {one.said}
          </li>
        ))}
      </ul>
      {whole.note && <p>{whole.note}</p>}
    </details>
  );
}
