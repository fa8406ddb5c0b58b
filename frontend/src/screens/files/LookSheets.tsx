import { Input } from "@chakra-ui/react";
import { Labelled, Select } from "../../kit/fields";
import type { LookPart } from "./LookTable";

type Layout = NonNullable<LookPart["spec"]["layout"]>;

/** Which sheets of a workbook are read, where the head is, and what stands side by side. */
export function LookSheets({ seen, spec, onChange }: LookPart) {
  const layout = spec.layout;
  if (!layout) return null;
  const set = (changes: Partial<Layout>) => onChange({ layout: { ...layout, ...changes } });
  return (
    <>
      {seen.sheets.length + seen.hidden.length > 1 && (
        <Sheets seen={seen} layout={layout} onSheets={(names) => set(chosen(names, seen.sheets))} />
      )}
      {["text", "xlsx", "ods"].includes(layout.format) && (
        <details className="look-lie">
          <summary>How the table lies</summary>
          <div className="look-fields">
            <Whole
              label="Names of columns are in row"
              value={(layout.head_row ?? 0) + 1}
              onSet={(row) => set({ head_row: row - 1 })}
            />
            <Whole
              label="Rows of names"
              value={layout.head_rows ?? 1}
              most={4}
              onSet={(head_rows) => set({ head_rows })}
            />
            <Labelled label="Side by side stand">
              <Select
                size="xs"
                label="Side by side stand"
                value={layout.across ?? "nothing"}
                onChange={(across) => set({ across: across as Layout["across"] })}
              >
                <option value="nothing">what each column’s name says</option>
                <option value="days">days</option>
                <option value="people">people</option>
              </Select>
            </Labelled>
            {layout.across !== "nothing" && (
              <Whole label="Columns before them" value={layout.left ?? 1} onSet={(left) => set({ left })} />
            )}
          </div>
        </details>
      )}
    </>
  );
}

/** One sheet alone is read as the sheet; several as one table. */
const chosen = (names: string[], all: string[]): Partial<Layout> =>
  names.length === 1 ? { sheet: names[0], sheets: [] } : { sheets: names.length ? names : all.slice(0, 1) };

function Sheets({
  seen,
  layout,
  onSheets,
}: {
  seen: LookPart["seen"];
  layout: Layout;
  onSheets: (names: string[]) => void;
}) {
  const read = layout.sheets?.length ? layout.sheets : [layout.sheet ?? ""];
  const all = [...seen.sheets, ...seen.hidden];
  const toggle = (name: string) =>
    onSheets(all.filter((one) => (one === name ? !read.includes(one) : read.includes(one))));
  return (
    <fieldset className="look-sheets">
      <legend>Sheets to read</legend>
      {all.map((name) => (
        <label key={name}>
          <input type="checkbox" checked={read.includes(name)} onChange={() => toggle(name)} />
          <span>
            {name}
            {seen.hidden.includes(name) && <span className="quiet"> (hidden)</span>}
          </span>
        </label>
      ))}
      {seen.sheets.length > 2 && (
        <button type="button" className="text-button" onClick={() => onSheets(seen.sheets)}>
          All of them
        </button>
      )}
    </fieldset>
  );
}

interface WholeProps {
  label: string;
  value: number;
  most?: number;
  onSet: (value: number) => void;
}

function Whole({ label, value, most = 100, onSet }: WholeProps) {
  return (
    <Labelled label={label}>
      <Input
        key={value}
        size="xs"
        inputMode="numeric"
        aria-label={label}
        defaultValue={String(value)}
        onBlur={(event) => {
          const typed = Number(event.target.value);
          if (Number.isInteger(typed) && typed >= 1 && typed <= most && typed !== value) onSet(typed);
          else event.target.value = String(value);
        }}
      />
    </Labelled>
  );
}
