import { useId } from "react";
import { ulid } from "ulid";
import type { Drill } from "../../../api/client";
import { again, GRADES, type Line, moved, WEIGHTS, wrongWith } from "./partsPlan";

interface Props {
  lines: Line[];
  /** Once it was tried to save, what is wrong is said. */
  said: boolean;
  /** Drills that a name may be of. */
  names: Drill[];
  /** Whether rounds are graded here. */
  graded?: boolean;
  onChange: (lines: Line[]) => void;
}

/** Where it is drawn for the first time, one may type. */
const caret = (field: HTMLInputElement | null) => field?.focus();

/** The parts in their order, each with name, minutes and weight. */
export function PartLines({ lines, said, names, graded = false, onChange }: Props) {
  const list = useId();
  if (lines.length === 0) return <p className="quiet">This session has no parts yet.</p>;
  const change = (i: number, to: Partial<Line>) =>
    onChange(lines.map((line, at) => (at === i ? { ...line, ...to } : line)));
  /** A drill that is known brings its usual minutes and weight. */
  const named = (i: number, name: string) => {
    const drill = lines[i]?.minutes === "" ? names.find((one) => one.name === name) : undefined;
    const usual = drill && { minutes: String(drill.minutes), weight: String(Math.round(drill.weight)) };
    change(i, { name, ...usual });
  };
  return (
    <>
      <table>
        <thead>
          <tr>
            <th scope="col">part</th>
            <th scope="col">minutes</th>
            <th scope="col">weight</th>
            {graded && <th scope="col">grade</th>}
            <td />
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => {
            const wrong = said ? wrongWith(lines, i) : null;
            const of = line.name || `part ${i + 1}`;
            return (
              <tr key={line.key}>
                <td>
                  <input
                    aria-label={`Name of ${of}`}
                    aria-invalid={wrong?.at === "name"}
                    ref={line.key.startsWith("typed") ? caret : undefined}
                    list={list}
                    maxLength={120}
                    value={line.name}
                    onChange={(event) => named(i, event.target.value)}
                  />
                  {wrong && (
                    <span role="alert" className="field-error">
                      {wrong.said}
                    </span>
                  )}
                </td>
                <td className="number">
                  <input
                    aria-label={`Minutes of ${of}`}
                    aria-invalid={wrong?.at === "minutes"}
                    inputMode="decimal"
                    value={line.minutes}
                    onChange={(event) => change(i, { minutes: event.target.value })}
                  />
                </td>
                <td className="weight">
                  <Choice
                    label={`Weight of ${of}`}
                    value={line.weight}
                    options={WEIGHTS}
                    onChange={(weight) => change(i, { weight })}
                  />
                </td>
                {graded && (
                  <td className="weight">
                    <Choice
                      label={`Grade of ${of}`}
                      value={line.grade}
                      options={[["", "no round"], ...GRADES]}
                      onChange={(grade) => change(i, { grade })}
                    />
                  </td>
                )}
                <td>
                  <Do label={`${of} up`} said="↑" off={i === 0} onDo={() => onChange(moved(lines, i, -1))} />
                  <Do
                    label={`${of} down`}
                    said="↓"
                    off={i === lines.length - 1}
                    onDo={() => onChange(moved(lines, i, 1))}
                  />
                  <Do
                    label={`${of} once more`}
                    said="again"
                    off={!line.name.trim()}
                    onDo={() => onChange(again(lines, i, ulid()))}
                  />
                  <Do
                    label={`Take ${of} out`}
                    said="take out"
                    onDo={() => onChange(lines.filter((_, at) => at !== i))}
                  />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      <datalist id={list}>
        {names.map((one) => (
          <option key={one.name} value={one.name} />
        ))}
      </datalist>
    </>
  );
}

interface ChoiceProps {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}

function Choice({ label, value, options, onChange }: ChoiceProps) {
  return (
    <select aria-label={label} value={value} onChange={(event) => onChange(event.target.value)}>
      {!options.some(([one]) => one === value) && <option>{value}</option>}
      {options.map(([one, name]) => (
        <option key={one} value={one}>
          {name}
        </option>
      ))}
    </select>
  );
}

interface DoProps {
  label: string;
  said: string;
  off?: boolean;
  onDo: () => void;
}

function Do({ label, said, off = false, onDo }: DoProps) {
  return (
    <button type="button" className="text-button" aria-label={label} disabled={off} onClick={onDo}>
      {said}
    </button>
  );
}
