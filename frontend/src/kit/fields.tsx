import { Field, NativeSelect } from "@chakra-ui/react";
import type { ReactNode } from "react";

/** A field with its name above and what is wrong with it below. */
export function Labelled({
  label,
  error,
  children,
}: {
  label: string;
  error?: string | null;
  children: ReactNode;
}) {
  return (
    <Field.Root invalid={Boolean(error)}>
      <Field.Label fontSize="var(--type-note)">{label}</Field.Label>
      {children}
      <Field.ErrorText>{error}</Field.ErrorText>
    </Field.Root>
  );
}

interface SelectProps {
  label: string;
  value: string;
  onChange: (value: string) => void;
  children: ReactNode;
  size?: "xs" | "sm";
  disabled?: boolean;
}

export function Select({ label, value, onChange, children, size = "sm", disabled }: SelectProps) {
  return (
    <NativeSelect.Root size={size} disabled={disabled}>
      <NativeSelect.Field aria-label={label} value={value} onChange={(event) => onChange(event.target.value)}>
        {children}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  );
}

/** A number as people type it, with a point or a comma; NaN where it is none. */
export function typedNumber(text: string): number {
  const plain = text.trim().replace(",", ".").replace("−", "-");
  return plain === "" ? Number.NaN : Number(plain);
}

/** Fields that belong together, under one name. */
export function Group({
  label,
  error,
  children,
}: {
  label: string;
  error?: string | null;
  children: ReactNode;
}) {
  return (
    <fieldset className="group">
      <legend>{label}</legend>
      {children}
      {error && <p className="field-error">{error}</p>}
    </fieldset>
  );
}

interface ChecksProps<Value extends string> {
  all: readonly Value[];
  chosen: readonly Value[];
  onChange: (chosen: Value[]) => void;
  /** What they are called, where that is not what is sent. */
  names?: Partial<Record<Value, string>>;
}

/** Any of a few words. */
export function Checks<Value extends string>({ all, chosen, onChange, names }: ChecksProps<Value>) {
  return (
    <div className="checks">
      {all.map((one) => (
        <label key={one}>
          <input
            type="checkbox"
            checked={chosen.includes(one)}
            onChange={(event) =>
              onChange(event.target.checked ? [...chosen, one] : chosen.filter((other) => other !== one))
            }
          />
          {names?.[one] ?? one}
        </label>
      ))}
    </div>
  );
}
