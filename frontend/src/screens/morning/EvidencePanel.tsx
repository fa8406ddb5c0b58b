import { Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import { Link } from "react-router";
import type { Evidence, Lane } from "../../api/client";
import { evidenceQuery } from "../../api/queries/morning";
import { ChannelMark } from "../../charts/ChannelMark";
import { ItemLine } from "../../charts/ItemLine";
import { clockTime, mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { Stories } from "./Stories";
import { callName, isKnown, planText, roomText, turnedText } from "./words";

interface EvidencePanelProps {
  place: Place;
  lane: Lane;
  /** Which of the lanes on screen, from 1, and of how many. */
  at: number;
  of: number;
  onNext: () => void;
  onBack: () => void;
}

/** One athlete this morning: what was found, what would clear it, and the figures behind it. */
export const EvidencePanel = memo(function EvidencePanel(props: EvidencePanelProps) {
  const { place, lane, at, of, onNext, onBack } = props;
  const evidence = useQuery(
    evidenceQuery(place.squad.slug, place.day, lane.athlete_id, place.get("channel"), isKnown(place)),
  );
  const { room } = lane;
  return (
    <div className="evidence-found">
      <header>
        <h2>{lane.name}</h2>
        <span className="quiet">
          {lane.position}, {lane.number}
        </span>
        <span className="keys">
          {at} of {of}
          <button type="button" className="text-button" onClick={onBack} aria-label="Athlete before">
            <kbd>k</kbd>
          </button>
          <button type="button" className="text-button" onClick={onNext} aria-label="Next athlete">
            <kbd>j</kbd>
          </button>
          <button
            type="button"
            className="text-button close-side"
            onClick={() => place.set({ athlete: null }, true)}
          >
            Close
          </button>
        </span>
      </header>
      <p className="lead">
        <Link
          className="text-button whole-picture"
          to={place.to("/athlete", { athlete: String(lane.athlete_id) })}
        >
          Whole picture
        </Link>
        {lane.notices.some(({ code }) => code === "coming_back") && (
          <Link
            className="text-button whole-picture"
            to={place.to("/return", { athlete: String(lane.athlete_id) })}
          >
            Way back
          </Link>
        )}
        {room.closed ? (
          <>
            Room is <b>closed</b> today: {room.words}.
          </>
        ) : room.load === null ? (
          <>No figure for room today: {room.words.replace("no figure: ", "")}.</>
        ) : (
          <>
            <Link
              className="room-link"
              title="How this room comes about"
              to={place.to("/athlete", { athlete: String(lane.athlete_id), figure: "room" })}
            >
              Room today
            </Link>{" "}
            <b>{roomText(lane)}</b> · {room.words}
          </>
        )}
      </p>
      <p className="small" style={{ margin: "2px 0 10px" }}>
        {room.resting && <>At most: {room.resting}. </>}
        {room.bound_by && <>Held by the {room.bound_by}. </>}
        {room.next_load !== null && (
          <>
            Next, at {say.room(room.next_load)}: the {room.next_by}.{" "}
          </>
        )}
        {room.written > 0 && <>{planText(lane)} </>}
        {evidence.data && <WithPlan evidence={evidence.data} />}
      </p>
      {lane.strip.torn && <p className="allowed">No week load holds both {lane.strip.torn}.</p>}
      {lane.gate && <p className="allowed">Clinician: {lane.gate}</p>}
      <Stories place={place} lane={lane} tests={evidence.data?.tests ?? []} />
      {lane.others.length > 0 && <OtherRooms lane={lane} />}
      {evidence.data && <Today place={place} evidence={evidence.data} />}
      {lane.felt.length > 0 && <Reported place={place} athlete={lane.athlete_id} felt={lane.felt} />}
      {evidence.isError && (
        <p className="section" role="alert">
          {evidence.error.message}{" "}
          <button type="button" className="text-button" onClick={() => evidence.refetch()}>
            Try again
          </button>
        </p>
      )}
      {evidence.isPending && <Skeleton height="170px" mt="3" />}
      {evidence.data && <Behind place={place} athlete={lane.athlete_id} evidence={evidence.data} />}
      <p className="small section">
        Supports the judgement of qualified staff. It is no diagnosis, and load figures do not predict injury.{" "}
        <Link className="text-button" to={place.to("/method")}>
          How it is worked out
        </Link>
      </p>
    </div>
  );
});

/** Room on the other kinds of work; the one that binds is named first. */
function OtherRooms({ lane }: { lane: Lane }) {
  const others = [...lane.others].sort(
    (a, b) => Number(b.code === lane.binding) - Number(a.code === lane.binding),
  );
  return (
    <ul className="other-rooms">
      {others.map((other) => {
        const over = other.room.load !== null && other.room.plan > other.room.load + 0.5;
        return (
          <li key={other.code}>
            <ChannelMark mark={other.mark} label={other.name} />
            <span>
              <b>{other.name}</b> {other.room.words}
              {other.code === lane.binding && ", binds first"}
              {other.room.plan > 0 && (
                <small className={over ? "over" : undefined}>
                  {" "}
                  usual for today’s plan {say.load(other.room.plan)}
                  {over && `, ${say.load(other.room.plan - (other.room.load ?? 0))} too much`}
                </small>
              )}
            </span>
          </li>
        );
      })}
    </ul>
  );
}

function WithPlan({ evidence }: { evidence: Evidence }) {
  const kept = evidence.with_plan;
  if (kept.load === null) return null;
  return (
    <>
      With the plan of the next 7 days kept, room is {say.room(kept.load)}
      {kept.bound_by && <> ({kept.bound_by})</>}.
    </>
  );
}

/** A session as planned, struck through where it does not stand, and what stands of it where that is less. */
function PlannedSession({ session }: { session: Evidence["plan"][number] }) {
  const { title, minutes, effort, stands, stands_effort } = session;
  const planned = `${title}, ${say.short(minutes)} min at ${say.short(effort)}`;
  if (minutes > 0 && stands <= 0)
    return (
      <>
        <s>{planned}</s> <span className="small">does not stand</span>
      </>
    );
  if (Math.abs(stands - minutes) < 0.5 && stands_effort >= effort) return planned;
  return (
    <>
      {planned}{" "}
      <b>
        → {say.short(stands)} min at {say.short(Math.min(effort, stands_effort))}
      </b>
    </>
  );
}

/** Today's plan, the athlete's words, and what was called last time. */
function Today({ place, evidence }: { place: Place; evidence: Evidence }) {
  const { plan, said, last } = evidence;
  return (
    <section className="section today">
      <h3>{place.day === place.squad.today ? "Today" : "This day"}</h3>
      {plan.length === 0 ? (
        <p className="quiet">No session is planned.</p>
      ) : (
        plan.map((session) => (
          <p key={session.starts_at}>
            <span className="figure">{clockTime(session.starts_at, place.squad.time_zone)}</span>{" "}
            <PlannedSession session={session} />
          </p>
        ))
      )}
      {said.map((one) => (
        <p key={one.day + one.words}>
          <q>{one.words}</q> <span className="small">{mediumDay(one.day)}</span>
        </p>
      ))}
      {last && (
        <p>
          Last call, {mediumDay(last.day)}: <b>{callName(last.call.kind)}</b>
          {last.call.reason && ` (${last.call.reason})`}. <span className="quiet">{turnedText(last)}</span>
        </p>
      )}
    </section>
  );
}

/** Item by item against the athlete's own usual, with the last four weeks. */
function Reported({ place, athlete, felt }: { place: Place; athlete: number; felt: Lane["felt"] }) {
  return (
    <section className="section">
      <h3>This morning’s report against their own usual</h3>
      <table className="figures-table felt-table">
        <tbody>
          {felt
            .filter((item) => item.value !== null)
            .map((item) => (
              <tr key={item.item}>
                <th scope="row">
                  <Link
                    to={place.to("/athlete", { athlete: String(athlete), figure: `change:${item.item}` })}
                  >
                    {item.name}
                  </Link>
                </th>
                <td>
                  <ItemLine felt={item} />
                </td>
                <td className={`figure${item.z !== null && item.z <= -1 ? " missing" : ""}`}>
                  {say.short(item.value ?? 0)}
                </td>
                <td className="quiet">
                  {item.usual === null
                    ? "no usual yet"
                    : `usual ${say.short(item.usual)} ± ${say.short(item.spread ?? 0)}`}
                </td>
              </tr>
            ))}
        </tbody>
      </table>
    </section>
  );
}

/** The figures as they stood the evening before, and every limit in force with who set it. */
function Behind({ place, athlete, evidence }: { place: Place; athlete: number; evidence: Evidence }) {
  return (
    <>
      <section className="section">
        <h3>Figures, at the end of the last day recorded</h3>
        <table className="figures-table">
          <tbody>
            {evidence.figures.map((figure) => (
              <tr key={figure.code}>
                <th scope="row">
                  <Link to={place.to("/athlete", { athlete: String(athlete), figure: figure.code })}>
                    {figure.name}
                  </Link>
                </th>
                <td className={figure.value === null ? "quiet" : "figure"} title={figure.code}>
                  {figure.value === null ? figure.withheld : figure.text}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section className="section">
        <h3>Limits in force</h3>
        {evidence.limits.map((limit) => (
          <p className="limit-line" key={limit.channel + limit.key}>
            {limit.channel && `${limit.channel}: `}
            {limit.title}
            {limit.hard ? "" : ", advisory"}:{" "}
            {limit.sentence || `rests, ${limit.silent || "nothing to judge yet"}.`}
            <span className="small">{limit.provenance}</span>
          </p>
        ))}
      </section>
    </>
  );
}
