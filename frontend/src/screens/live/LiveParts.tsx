import type { Live } from "../../api/client";
import { clock } from "../field/useField";

/** The parts with their aims, the clock in the one that runs. */
export function LiveParts({ live }: { live: Live }) {
  const last = live.runs.at(-1);
  const running = last?.end === null ? last : undefined;
  const done = new Set(live.runs.filter((run) => run.end !== null).map((run) => run.part));
  const y = (share: number) => 66 - ((share - 45) / 55) * 60;
  return (
    <ol className="live-parts" aria-label="Parts">
      {live.parts.map((part) => {
        const runs = running?.part === part.place;
        const left = runs ? part.minutes * 60 - (live.now - running.begin) : 0;
        return (
          <li
            key={part.place}
            style={{ flexGrow: Math.max(part.minutes, 6) }}
            aria-current={runs ? "step" : undefined}
          >
            <b>{part.name}</b>
            {runs ? (
              <p className={left < 0 ? "live-over" : undefined}>
                <span role="timer">{clock(Math.abs(left))}</span>
                <small>
                  {left < 0 ? "over" : "left"} of {part.minutes} min, aim {Math.round(part.low)}–
                  {Math.round(part.high)} %
                </small>
              </p>
            ) : (
              <small>
                {part.minutes} min,{" "}
                {done.has(part.place) ? "done" : `aim ${Math.round(part.low)}–${Math.round(part.high)} %`}
              </small>
            )}
            <svg viewBox="0 0 100 70" preserveAspectRatio="none" aria-hidden="true">
              <rect
                width="100"
                y={y(part.high)}
                height={y(part.low) - y(part.high)}
                className={runs || done.has(part.place) ? "aim-now" : "aim-ahead"}
              />
            </svg>
          </li>
        );
      })}
      {live.parts.length === 0 && (
        <li>This session has no parts: there is no aim to hold anybody against.</li>
      )}
    </ol>
  );
}
