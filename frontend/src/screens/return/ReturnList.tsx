import type { ReturnRow, Returns } from "../../api/client";
import { ClimbStrip } from "../../charts/ClimbStrip";
import { mediumDay, shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { type Grouped, grouped, STATES } from "./returnStates";
import { Trials } from "./Trials";

interface Props {
  place: Place;
  returns: Returns;
  chosen: string | undefined;
  onChoose: (plan: string) => void;
}

/** Everybody who comes back, by what is wrong; one now for all of them. */
export function ReturnList({ place, returns, chosen, onChoose }: Props) {
  return (
    <nav className="return-list" aria-label="Plans to come back">
      {STATES.map(([state, title]) => {
        const rows = returns.rows.filter((row) => row.state === state);
        if (rows.length === 0) return null;
        return (
          <section key={state}>
            <h2>
              {title} <span className="quiet">{rows.length}</span>
            </h2>
            {grouped(rows).map((group) => (
              <Row key={group.key} group={group} returns={returns} chosen={chosen} onChoose={onChoose} />
            ))}
          </section>
        );
      })}
      <Trials place={place} returns={returns} />
      <SeasonsEnd place={place} returns={returns} />
      <Breaks place={place} returns={returns} />
    </nav>
  );
}

function Row({ group, returns, chosen, onChoose }: { group: Grouped } & Omit<Props, "place">) {
  const row = group.rows[0] as ReturnRow;
  const many = group.rows.length > 1;
  const here = group.rows.some((one) => one.plan_id === chosen);
  return (
    <div className="return-item">
      <button
        type="button"
        className="return-row"
        aria-current={here || undefined}
        onClick={() => onChoose(row.plan_id)}
      >
        <span className="return-name">
          <b>{many ? `${group.rows.length} people` : row.name}</b>{" "}
          <span className="quiet">
            {many ? "a break of the squad" : [row.position, row.number].filter(Boolean).join(", ")}
            {" · "}
            <span className="plum">{row.what}</span>
            {row.stages > 0 && !many && `, stage ${row.stage} of ${row.stages}`}
          </span>
        </span>
        <ClimbStrip
          climb={row}
          from={returns.from_day}
          to={returns.to_day}
          today={returns.day}
          label={row.said}
        />
        <span className="return-short">{row.short}</span>
        {row.back && <span className="plum">One stage back proposed: {row.back}.</span>}
      </button>
      {many && here && (
        <ul className="return-many">
          {group.rows.map((one) => (
            <li key={one.plan_id}>
              <button
                type="button"
                className="text-button plain"
                aria-current={one.plan_id === chosen || undefined}
                onClick={() => onChoose(one.plan_id)}
              >
                {one.name}
              </button>{" "}
              <span className="quiet">{one.short}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** A season that ends soon: its break is planned for everybody at once. */
function SeasonsEnd({ place, returns }: { place: Place; returns: Returns }) {
  const one = returns.season_break;
  if (!one) return null;
  const plan = () =>
    place.set({ begin: "squad", off: one.first_off, back: one.first_day, by: one.target ?? null });
  return (
    <section>
      <h2>The season ends</h2>
      <p>
        {one.said}{" "}
        {place.may("plan_returns") && (
          <button type="button" className="text-button" onClick={plan}>
            Plan the way back of everybody
          </button>
        )}
      </p>
    </section>
  );
}

/** Breaks that nobody has planned a way back from. */
function Breaks({ place, returns }: { place: Place; returns: Returns }) {
  if (returns.breaks.length === 0) return null;
  return (
    <section>
      <h2>
        Without a plan <span className="quiet">{returns.breaks.length}</span>
      </h2>
      {returns.breaks.map((one) => (
        <p key={`${one.athlete_id} ${one.channel}`}>
          <b>{one.name}</b> <span className="quiet">{one.position}</span>
          <br />
          {one.said}{" "}
          {place.may("plan_returns") && one.channel === "" && (
            <button
              type="button"
              className="text-button"
              title={`Off from ${mediumDay(one.first_off)}`}
              onClick={() =>
                place.set({
                  begin: "one",
                  who: String(one.athlete_id),
                  off: one.first_off,
                  back: one.back ?? place.day,
                })
              }
            >
              Plan it{one.back ? `, from ${shortDay(one.back)}` : ""}
            </button>
          )}
        </p>
      ))}
    </section>
  );
}
