import type { OwnReturn as Own } from "../../api/client";
import { dayAndMonth, mediumDay } from "../../frame/days";

type Drill = Own["drills"][number];

/** How much of the usual minutes was done, in per cent of the bar. */
const share = ({ done, usual }: Drill) => (usual > 0 ? Math.min(100, (done / usual) * 100) : 100);

/** The own way back: where one is, each kind of work against the own usual week, and what comes next. */
export function OwnReturn({ back }: { back: Own }) {
  return (
    <section className="own-return" aria-label="Your way back">
      <h2>Your way back</h2>
      <p>{back.said}</p>
      {back.steps.length > 0 && (
        <ol className="own-steps" aria-label="Week by week, in per cent of your usual week">
          {back.steps.map((one) => (
            <li key={one.first} aria-current={one.here ? "step" : undefined}>
              <i style={{ height: `${one.share * 0.56}px` }} />
              <span>{one.here ? <b>{Math.round(one.share)}</b> : Math.round(one.share)}</span>
              <span className="quiet">{dayAndMonth(one.first)}</span>
            </li>
          ))}
        </ol>
      )}
      {back.climbs.map((one) => (
        <div key={one.name} className="own-climb">
          <b>{one.name}</b>
          <span className="bar">
            <i style={{ width: `${Math.min(100, one.done ?? 0)}%` }} />
            <em style={{ left: `${Math.min(100, one.most)}%` }} />
          </span>
          <span>
            {one.opens
              ? `not before ${mediumDay(one.opens)}`
              : `${one.done === null ? "not rated yet" : `${Math.round(one.done)} %`}, up to ${Math.round(one.most)} % this week`}
          </span>
        </div>
      ))}
      {back.drills.length > 0 && (
        <>
          <h3>Drill by drill</h3>
          <p className="quiet">Minutes of the last seven days, of a usual week before your break.</p>
          {back.drills.map((one) => (
            <div key={one.name} className="own-climb">
              <b>{one.name}</b>
              <span className="bar">
                <i style={{ width: `${share(one)}%` }} />
              </span>
              <span>
                {one.usual > 0
                  ? `${Math.round(one.done)} of ${Math.round(one.usual)} min`
                  : `${Math.round(one.done)} min, new since`}
              </span>
            </div>
          ))}
        </>
      )}
      {back.next.map((one) => (
        <p key={one}>{one}</p>
      ))}
    </section>
  );
}
