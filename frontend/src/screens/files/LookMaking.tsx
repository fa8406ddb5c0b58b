import { Input } from "@chakra-ui/react";
import { clockTime } from "../../frame/days";
import { SESSION_KINDS } from "../../frame/sessionKinds";
import { Labelled, Select, typedNumber } from "../../kit/fields";
import { fullDay, whatIsMade } from "./fileWords";
import type { LookPart } from "./LookTable";

const MOST_LISTED = 200;

/** Sessions that the file speaks of and that are not there: how many, on which days, and what they are to be. */
export function LookMaking({ seen, spec, onChange, zone }: LookPart & { zone: string }) {
  const { making } = seen;
  return (
    <div className="look-making">
      <label className="recompute">
        <input
          type="checkbox"
          checked={spec.make_sessions ?? false}
          onChange={(event) => onChange({ make_sessions: event.target.checked })}
        />
        <span>{whatIsMade(making.map((one) => one.starts_at.slice(0, 10)))}</span>
      </label>
      {spec.make_sessions && (
        <div className="look-fields">
          <Labelled label="Their kind, where no title says it">
            <Select
              size="xs"
              label="Kind of the sessions that are made"
              value={spec.made_kind ?? ""}
              onChange={(kind) => onChange({ made_kind: (kind || null) as typeof spec.made_kind })}
            >
              <option value="">the squad’s usual</option>
              {Object.entries(SESSION_KINDS).map(([kind, name]) => (
                <option key={kind} value={kind}>
                  {name}
                </option>
              ))}
            </Select>
          </Labelled>
          <Labelled label="Their title">
            <Input
              size="xs"
              maxLength={120}
              defaultValue={spec.made_title}
              placeholder="From a file"
              onBlur={(event) =>
                event.target.value !== spec.made_title && onChange({ made_title: event.target.value })
              }
            />
          </Labelled>
          <Labelled label="Effort planned, 0–10">
            <Input
              size="xs"
              inputMode="decimal"
              defaultValue={spec.made_effort ?? ""}
              placeholder="as most rated it"
              onBlur={(event) => {
                const effort = event.target.value.trim() ? typedNumber(event.target.value) : null;
                if (effort === null || (effort >= 0 && effort <= 10)) onChange({ made_effort: effort });
              }}
            />
          </Labelled>
        </div>
      )}
      <details>
        <summary>Which sessions</summary>
        <ul>
          {making.slice(0, MOST_LISTED).map((one) => (
            <li key={`${one.starts_at} ${one.title}`}>
              {fullDay(one.starts_at.slice(0, 10))}, {clockTime(one.starts_at, zone)}{" "}
              <span className="quiet">
                {one.title}, {SESSION_KINDS[one.kind]}, {one.planned_minutes} min
              </span>
            </li>
          ))}
        </ul>
        {making.length > MOST_LISTED && <p className="quiet">and {making.length - MOST_LISTED} more</p>}
      </details>
    </div>
  );
}
