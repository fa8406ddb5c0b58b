import type { LiveLane } from "../../api/client";
import { Ribbon } from "../../charts/Ribbon";

const GROUPS: Record<string, string> = {
  ask: "Ask staff first",
  full: "Full",
  adapt: "Adapted",
  recover: "Recovery",
  return: "Coming back",
  out: "Not available",
};

/** Everybody in their place: whoever has grown leaves the name there, so that nobody moves. */
export function Resting({ lanes }: { lanes: LiveLane[] }) {
  const groups = Object.keys(GROUPS).filter((group) => lanes.some((lane) => lane.group === group));
  return (
    <div className="live-rest">
      {groups.map((group) => {
        const mine = lanes.filter((lane) => lane.group === group);
        return (
          <section key={group} aria-label={GROUPS[group]}>
            <h3 className={group === "return" ? "plum" : undefined}>
              {GROUPS[group]} <span>{mine.length}</span>
            </h3>
            {mine.map((lane) => (
              <Line key={lane.athlete_id} lane={lane} />
            ))}
          </section>
        );
      })}
    </div>
  );
}

function Line({ lane }: { lane: LiveLane }) {
  if (lane.height > 0)
    return (
      <p className="grown">
        <em>{lane.name}</em> <span>{lane.height === 2 ? "act" : "look"}, above</span>
      </p>
    );
  return (
    <p className={lane.gone ? "gone" : undefined}>
      <em>{lane.name}</em>
      {lane.share === null ? (
        <span>{lane.sentence || "no sensor"}</span>
      ) : (
        <>
          <Ribbon
            shares={lane.ribbon.slice(-24)}
            low={lane.low}
            high={lane.high}
            width={64}
            height={16}
            label={`${lane.name}, ${Math.round(lane.share)} %`}
          />
          <b className={lane.fault ? "doubtful" : undefined}>
            {lane.fault && "≈"}
            {Math.round(lane.share)} %
          </b>
        </>
      )}
    </p>
  );
}
