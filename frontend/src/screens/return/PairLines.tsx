import type { SideRow } from "../../api/client";

/** What was measured of a joint on both sides, as it is typed. */
export interface TypedPair {
  id: string;
  name: string;
  left: string;
  right: string;
}

let made = 0;
const empty = (): TypedPair => ({ id: `p${made++}`, name: "", left: "", right: "" });

/** Those that are there, and a line for the next one. */
export const typedPairs = (pairs: SideRow["ranges"]): TypedPair[] => [
  ...pairs.map((one) => ({ ...empty(), name: one.name, left: String(one.left), right: String(one.right) })),
  empty(),
];

interface Props {
  /** What is measured, such as ``Range``. */
  of: string;
  unit: string;
  pairs: TypedPair[];
  /** What is wrong with a field, such as ``0.left``. */
  wrong: (field: string) => string | undefined;
  onChange: (to: TypedPair[]) => void;
}

/** A line a joint: its name, left and right; there is always an empty one at the end. */
export function PairLines({ of, unit, pairs, wrong, onChange }: Props) {
  const change = (i: number, to: Partial<TypedPair>) => {
    const next = pairs.map((one, at) => (at === i ? { ...one, ...to } : one));
    const last = next.at(-1);
    onChange(last && `${last.name}${last.left}${last.right}` !== "" ? [...next, empty()] : next);
  };
  return (
    <table className="pair-lines">
      <thead>
        <tr>
          <th scope="col">joint</th>
          <th scope="col">left</th>
          <th scope="col">right</th>
        </tr>
      </thead>
      <tbody>
        {pairs.map((one, i) => {
          const said = wrong(`${i}.name`) ?? wrong(`${i}.left`) ?? wrong(`${i}.right`);
          const called = one.name || `joint ${i + 1}`;
          return (
            <tr key={one.id}>
              <td>
                <input
                  aria-label={`${of}: joint ${i + 1}`}
                  aria-invalid={Boolean(wrong(`${i}.name`))}
                  maxLength={60}
                  value={one.name}
                  onChange={(event) => change(i, { name: event.target.value })}
                />
                {said && (
                  <span role="alert" className="field-error">
                    {said}
                  </span>
                )}
              </td>
              {(["left", "right"] as const).map((side) => (
                <td key={side}>
                  <input
                    aria-label={`${of} of ${called}, ${side}`}
                    aria-invalid={Boolean(wrong(`${i}.${side}`))}
                    title={unit}
                    inputMode="decimal"
                    value={one[side]}
                    onChange={(event) => change(i, { [side]: event.target.value })}
                  />
                </td>
              ))}
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
