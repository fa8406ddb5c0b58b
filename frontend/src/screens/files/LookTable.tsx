import type { FilePreview, FileSpec } from "../../api/client";
import { Select } from "../../kit/fields";
import { roleName } from "./fileWords";

export interface LookPart {
  seen: FilePreview;
  spec: FileSpec;
  onChange: (changes: Partial<FileSpec>) => void;
}

type Column = FileSpec["columns"][number];

/** The first rows of a file, and above each column what it holds. */
export function LookTable({ seen, spec, onChange }: LookPart) {
  const set = (at: number, changes: Partial<Column>) =>
    onChange({ columns: spec.columns.map((one, i) => (i === at ? { ...one, ...changes } : one)) });
  return (
    <div className="look-table">
      <table>
        <thead>
          <tr>
            {spec.columns.map((use, i) => (
              <th key={use.name} scope="col">
                <div className="column-name">{use.name}</div>
                <Select
                  size="xs"
                  label={`${use.name} holds`}
                  value={use.role}
                  onChange={(role) => set(i, { role, unit: seen.units[role]?.[0] ?? "" })}
                >
                  {seen.roles[spec.kind]?.map((role) => (
                    <option key={role} value={role}>
                      {roleName(role, seen.tests)}
                    </option>
                  ))}
                </Select>
                {(seen.units[use.role]?.length ?? 0) > 1 && (
                  <Select
                    size="xs"
                    label={`Unit of ${use.name}`}
                    value={use.unit || (seen.units[use.role]?.[0] ?? "")}
                    onChange={(unit) => set(i, { unit })}
                  >
                    {seen.units[use.role]?.map((unit) => (
                      <option key={unit}>{unit}</option>
                    ))}
                  </Select>
                )}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {seen.rows.slice(0, 5).map((row, i) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: rows of a file have no name of their own
            <tr key={i}>
              {row.map((cell, at) => (
                <td
                  key={spec.columns[at]?.name}
                  className={spec.columns[at]?.role === "ignore" ? "quiet" : ""}
                >
                  {cell}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
