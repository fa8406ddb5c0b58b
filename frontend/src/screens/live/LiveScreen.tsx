import { useQuery } from "@tanstack/react-query";
import { Problem } from "../../api/client";
import { fieldQuery } from "../../api/queries/field";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useField } from "../field/useField";
import { Grown } from "./Grown";
import { Hubs } from "./Hubs";
import { LiveParts } from "./LiveParts";
import { LiveSide } from "./LiveSide";
import { OwnStrap } from "./OwnStrap";
import { Resting } from "./Resting";
import { useLive } from "./useLive";
import "./live.css";

/** The session on a second screen: who needs somebody now, whom to look at, and everybody else. */
export default function LiveScreen({ place }: { place: Place }) {
  const found = useQuery(fieldQuery(place.squad.slug, place.day, place.get("session")));
  const session = found.data?.session.id;
  const { live, away, refused } = useLive(place.squad.slug, session);
  const { note } = useField(place);
  if (found.isError && !found.data) {
    const none = found.error instanceof Problem && found.error.status === 404;
    return (
      <Message
        title={none ? "No session today" : "The session could not be loaded"}
        action="Try again"
        onAction={() => found.refetch()}
      >
        {found.error.message}
      </Message>
    );
  }
  if (refused) return <Message title="Not live just now">{refused}</Message>;
  if (!live) return <p className="live live-waiting">The session is on its way …</p>;
  const grown = live.lanes.filter((lane) => lane.height > 0).sort((a, b) => b.height - a.height);
  // The first sentence is the one to be seen from the other side of the hall.
  const first = /^.*?\.(?= |$)/.exec(live.said)?.[0] ?? live.said;
  const sent = live.lanes.some((lane) => lane.devices.length > 0);
  return (
    <div className="live">
      <LiveParts live={live} />
      <div className="live-said" role="status">
        <h1>
          <b>{first}</b>
          {live.said.slice(first.length)}
        </h1>
        {away !== null && <p className="live-away">No connection; shown as it was.</p>}
      </div>
      {sent ? (
        <div className="live-desk">
          <div className="live-main">
            {grown.map((lane) => (
              <Grown key={lane.athlete_id} lane={lane} now={live.now} zone={place.squad.time_zone} />
            ))}
            <Resting lanes={live.lanes} />
          </div>
          <LiveSide place={place} live={live} grown={grown} note={note} />
        </div>
      ) : (
        <Hubs place={place} />
      )}
      <OwnStrap place={place} live={live} />
    </div>
  );
}
