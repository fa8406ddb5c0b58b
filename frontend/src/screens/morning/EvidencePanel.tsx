import { Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Evidence, Lane, NoticeItem } from "../../api/client";
import { evidenceQuery } from "../../api/queries";
import { ChannelMark } from "../../charts/ChannelMark";
import { Notch } from "../../charts/Notch";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { CallSection } from "./CallSection";
import { roomText } from "./words";

interface EvidencePanelProps {
  place: Place;
  lane: Lane;
  position: { at: number; of: number };
  onNext: () => void;
  onBack: () => void;
}

/** One athlete this morning: what was found, what would clear it, what each call comes to, and the figures behind it. */
export function EvidencePanel({ place, lane, position, onNext, onBack }: EvidencePanelProps) {
  const evidence = useQuery(
    evidenceQuery(place.squad.slug, place.day, lane.athlete_id, place.get("channel")),
  );
  const { room } = lane;
  return (
    <>
      <div className="evidence-found">
        <header>
          <h2>{lane.name}</h2>
          <span className="quiet">
            {lane.position}, {lane.number}
          </span>
          <span className="keys">
            {position.at} of {position.of}
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
          {room.load === null ? (
            <>No figure for room today: {room.words.replace("no figure: ", "")}.</>
          ) : (
            <>
              Room today <b>{roomText(lane)}</b> · {room.words}
            </>
          )}
        </p>
        <p className="small" style={{ margin: "2px 0 10px" }}>
          {room.resting && <>At most, because these limits rest: {room.resting}. </>}
          {room.bound_by && <>Held by the {room.bound_by}. </>}
          {room.next_load !== null && (
            <>
              Next, at {say.room(room.next_load)}: the {room.next_by}.{" "}
            </>
          )}
          {room.plan > 0 && <>The plan for today is {say.load(room.plan)}. </>}
          {evidence.data && <WithPlan evidence={evidence.data} />}
        </p>
        {lane.others.length > 0 && <OtherRooms lane={lane} />}
        {lane.notices.length === 0 && (
          <p className="notice" style={{ display: "block" }}>
            Nothing to notice: every limit holds, and every rating of the last 7 days is in.
          </p>
        )}
        {lane.notices.map((notice) => (
          <NoticeLines key={notice.channel + notice.code + notice.sentence} notice={notice} />
        ))}
        {evidence.isError && (
          <p className="section" role="alert">
            {evidence.error.message}{" "}
            <button type="button" className="text-button" onClick={() => evidence.refetch()}>
              Try again
            </button>
          </p>
        )}
        {evidence.isPending && <Skeleton height="170px" mt="3" />}
        {evidence.data && <Behind evidence={evidence.data} />}
        <p className="small section">
          Supports the judgement of qualified staff. It is no diagnosis, and load figures do not predict
          injury.
        </p>
      </div>
      <div className="evidence-call">
        <CallSection place={place} lane={lane} outcomes={evidence.data?.outcomes ?? []} />
      </div>
    </>
  );
}

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

function NoticeLines({ notice }: { notice: NoticeItem }) {
  return (
    <section className="notice" aria-label={`${notice.severity}: ${notice.title}`}>
      <Notch shape={notice.shape} severity={notice.severity} size={16} />
      <div>
        <p style={{ fontWeight: notice.severity === "act" ? 600 : 400 }}>
          {notice.channel && `${notice.channel}: `}
          {notice.sentence}
        </p>
        {notice.provenance && <p className="small">{notice.provenance}</p>}
        <p className="small" style={{ color: "var(--ink)" }}>
          {notice.clears}
        </p>
      </div>
    </section>
  );
}

/** The figures as they stood the evening before, and every limit in force with who set it. */
function Behind({ evidence }: { evidence: Evidence }) {
  return (
    <>
      <section className="section">
        <h3>Figures, at the end of the last day recorded</h3>
        <table className="figures-table">
          <tbody>
            {evidence.figures.map((figure) => (
              <tr key={figure.code}>
                <th scope="row">{figure.name}</th>
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
