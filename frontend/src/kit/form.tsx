/** A form: what is typed, what is wrong with it and where, and sending it. */

import { Button, Input, type InputProps, Textarea, type TextareaProps } from "@chakra-ui/react";
import { type QueryKey, useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useRef } from "react";
import {
  type DefaultValues,
  type FieldValues,
  type Path,
  type PathValue,
  type UseFormReturn,
  useForm,
} from "react-hook-form";
import { askAgain } from "../api/askAgain";
import type { Problem } from "../api/client";
import { Labelled, Select } from "./fields";

/** What a version is called: it counts, or it is an identifier. */
type Seen = number | string | null;

interface Options<Typed extends FieldValues, Saved> {
  start: Typed;
  /** What is wrong with what is typed, by field; said once it was tried to send it. */
  check?: (typed: Typed) => Partial<Record<string, string | false | null>>;
  /** `seen` is the version that is to be replaced. */
  send: (typed: Typed, seen: Seen) => Promise<Saved>;
  /** The version that was there when it was opened, null for none. */
  seen?: Seen;
  /** What stands once it is saved, for a form that stays open. */
  stands?: (saved: Saved) => Seen;
  saved: (saved: Saved, typed: Typed) => void;
  /** Answers with this key's beginning are asked for again once it is saved. */
  renews: QueryKey;
}

export interface Sending<Typed extends FieldValues> {
  form: UseFormReturn<Typed>;
  typed: Typed;
  /** What is wrong with a field, as checked here or as the server says. */
  wrong: (...fields: string[]) => string | undefined;
  problem: Problem | null;
  pending: boolean;
  submit: (event: FormEvent) => void;
}

export function useSending<Typed extends FieldValues, Saved>(options: Options<Typed, Saved>): Sending<Typed> {
  const { start, check, send, saved, renews } = options;
  const queries = useQueryClient();
  // After a refusal because of somebody else's, theirs has been shown: sent once more, it replaces that.
  const seen = useRef<Seen>(options.seen ?? null);
  const form = useForm<Typed>({ defaultValues: start as DefaultValues<Typed> });
  const tried = form.formState.isSubmitted;
  const typed = form.watch();
  const sending = useMutation<Saved, Problem, Typed>({
    mutationFn: (what) => send(what, seen.current),
    onError: (problem) => {
      const theirs = problem.status === 409 && (problem.body.theirs as { version?: Seen } | undefined);
      if (theirs && theirs.version !== undefined) seen.current = theirs.version;
    },
    onSuccess: (answer, what) => {
      if (options.stands) seen.current = options.stands(answer);
      askAgain(queries, renews);
      saved(answer, what);
    },
  });
  const found = check?.(typed) ?? {};
  const submit = form.handleSubmit((all) => {
    const first = Object.entries(check?.(all) ?? {}).find(([, said]) => said)?.[0];
    if (!first) return sending.mutate(all);
    if (first in all) form.setFocus(first as Path<Typed>);
  });
  const said = (field: string) => (tried && found[field]) || sending.error?.of(field);
  return {
    form,
    typed,
    wrong: (...fields) => fields.map(said).find(Boolean),
    problem: sending.error,
    pending: sending.isPending,
    submit: (event) => void submit(event),
  };
}

interface FormProps<Typed extends FieldValues> {
  of: Sending<Typed>;
  head?: ReactNode;
  action: string;
  /** Without it there is no way out but to send. */
  onLeave?: () => void;
  leave?: string;
  /** Nothing can be sent by who may only read. */
  readOnly?: boolean;
  /** What stands below the buttons. */
  foot?: ReactNode;
  children: ReactNode;
}

export function Form<Typed extends FieldValues>(props: FormProps<Typed>) {
  const { of, head, action, onLeave, leave = "Leave as it is", readOnly, foot, children } = props;
  return (
    <form onSubmit={of.submit} noValidate>
      {head && <h2 className="form-head">{head}</h2>}
      <div className="form-rows">
        {children}
        {of.problem && of.problem.errors.length === 0 && (
          <p className="field-error" role="alert">
            {of.problem.message}
          </p>
        )}
        {!readOnly && (
          <div className="form-actions">
            <Button type="submit" size="sm" loading={of.pending}>
              {action}
            </Button>
            {onLeave && (
              <button type="button" className="text-button" onClick={onLeave}>
                {leave}
              </button>
            )}
          </div>
        )}
        {foot}
      </div>
    </form>
  );
}

interface FieldProps<Typed extends FieldValues> {
  of: Sending<Typed>;
  name: Path<Typed>;
  label: string;
  /** Other names by which the check or the server speaks of it. */
  also?: string[];
}

export function TextField<Typed extends FieldValues>({
  of,
  name,
  label,
  also,
  ...more
}: FieldProps<Typed> & Omit<InputProps, "form">) {
  return (
    <Labelled label={label} error={of.wrong(name, ...(also ?? []))}>
      <Input size="sm" {...more} {...of.form.register(name)} />
    </Labelled>
  );
}

export function AreaField<Typed extends FieldValues>({
  of,
  name,
  label,
  also,
  ...more
}: FieldProps<Typed> & Omit<TextareaProps, "form">) {
  return (
    <Labelled label={label} error={of.wrong(name, ...(also ?? []))}>
      <Textarea size="sm" rows={2} {...more} {...of.form.register(name)} />
    </Labelled>
  );
}

interface ChoiceProps<Typed extends FieldValues> extends FieldProps<Typed> {
  /** What can be chosen: what is sent, and how it is called. */
  options: readonly (readonly [string, string])[];
  /** Said in place of a choice while there is none. */
  none?: string;
  disabled?: boolean;
  onChosen?: (value: string) => void;
}

export function ChoiceField<Typed extends FieldValues>(props: ChoiceProps<Typed>) {
  const { of, name, label, also, options, none, disabled, onChosen } = props;
  const choose = (next: string) => {
    of.form.setValue(name, next as PathValue<Typed, Path<Typed>>);
    onChosen?.(next);
  };
  return (
    <Labelled label={label} error={of.wrong(name, ...(also ?? []))}>
      <Select label={label} value={String(of.form.watch(name) ?? "")} onChange={choose} disabled={disabled}>
        {none !== undefined && <option value="">{none}</option>}
        {options.map(([value, said]) => (
          <option key={value} value={value}>
            {said}
          </option>
        ))}
      </Select>
    </Labelled>
  );
}
