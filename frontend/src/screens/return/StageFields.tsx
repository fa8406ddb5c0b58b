import { Input, Textarea } from "@chakra-ui/react";
import { Labelled } from "../../kit/fields";
import {
  LOOKS,
  type Looks,
  lookingAt,
  newCriterion,
  type TypedCriterion,
  type TypedStage,
} from "./stagesEdit";

interface Props {
  stage: TypedStage;
  at: number;
  /** The stage that holds now. */
  holds: boolean;
  /** What is wrong with a field of it, such as ``criteria.0.many``. */
  wrong: (field: string) => string | undefined;
  onChange: (to: TypedStage) => void;
  onOut: (() => void) | undefined;
}

/** One stage: what it holds, what it allows, what has to hold to leave it and to come into it. */
export function StageFields({ stage, at, holds, wrong, onChange, onOut }: Props) {
  const set = (to: Partial<TypedStage>) => onChange({ ...stage, ...to });
  return (
    <fieldset>
      <legend>
        Stage {at + 1}
        {holds && <span className="quiet"> holds now</span>}
        {onOut && (
          <button
            type="button"
            className="text-button"
            aria-label={`Take stage ${at + 1} out`}
            onClick={onOut}
          >
            take out
          </button>
        )}
      </legend>
      <Labelled label={`What stage ${at + 1} holds`} error={wrong("content")}>
        <Textarea
          size="sm"
          rows={2}
          maxLength={200}
          value={stage.content}
          onChange={(event) => set({ content: event.target.value })}
        />
      </Labelled>
      <div className="return-fields">
        <Labelled label="Effort at most" error={wrong("effort_cap")}>
          <Input
            size="sm"
            inputMode="decimal"
            placeholder="free"
            value={stage.effort}
            onChange={(event) => set({ effort: event.target.value })}
          />
        </Labelled>
        <Labelled label="Minutes, %" error={wrong("minutes_share")}>
          <Input
            size="sm"
            inputMode="decimal"
            placeholder="all"
            value={stage.minutes}
            onChange={(event) => set({ minutes: event.target.value })}
          />
        </Labelled>
      </div>
      <label className="stage-closed">
        <input
          type="checkbox"
          checked={stage.closed}
          onChange={(event) => set({ closed: event.target.checked })}
        />{" "}
        Does not train
      </label>
      <Criteria
        title={at === 0 ? "To begin with it" : "To come into it"}
        list={stage.entry}
        wrong={(field) => wrong(`entry.${field}`)}
        whole={wrong("entry")}
        onChange={(entry) => set({ entry })}
      />
      <Criteria
        title="To leave it"
        list={stage.criteria}
        wrong={(field) => wrong(`criteria.${field}`)}
        whole={wrong("criteria")}
        onChange={(criteria) => set({ criteria })}
      />
    </fieldset>
  );
}

interface CriteriaProps {
  title: string;
  list: TypedCriterion[];
  wrong: (field: string) => string | undefined;
  whole: string | undefined;
  onChange: (to: TypedCriterion[]) => void;
}

function Criteria({ title, list, wrong, whole, onChange }: CriteriaProps) {
  const change = (i: number, to: TypedCriterion) => onChange(list.map((one, at) => (at === i ? to : one)));
  return (
    <div>
      <h3>{title}</h3>
      {list.map((one, i) => (
        <CriterionLine
          key={one.id}
          one={one}
          wrong={(field) => wrong(`${i}.${field}`)}
          onChange={(to) => change(i, to)}
          onOut={() => onChange(list.filter((_, at) => at !== i))}
        />
      ))}
      {whole && (
        <p role="alert" className="field-error">
          {whole}
        </p>
      )}
      <button
        type="button"
        className="text-button"
        onClick={() => onChange([...list, newCriterion("sides")])}
      >
        Ask for something more
      </button>
    </div>
  );
}

interface LineProps {
  one: TypedCriterion;
  wrong: (field: string) => string | undefined;
  onChange: (to: TypedCriterion) => void;
  onOut: () => void;
}

function CriterionLine({ one, wrong, onChange, onOut }: LineProps) {
  const { takes, name } = LOOKS[one.looks];
  const called = one.name || "a criterion";
  const said = [wrong("name"), ...takes.map(([amount]) => wrong(amount))].find(Boolean);
  return (
    <div className="criterion-line">
      <select
        aria-label={`What ${called} looks at`}
        value={one.looks}
        onChange={(event) => onChange(lookingAt(one, event.target.value as Looks))}
      >
        {Object.entries(LOOKS).map(([looks, { says }]) => (
          <option key={looks} value={looks}>
            {says}
          </option>
        ))}
      </select>
      <button type="button" className="text-button" aria-label={`Take ${called} out`} onClick={onOut}>
        take out
      </button>
      {name === "" && (
        <input
          aria-label="What is measured"
          aria-invalid={Boolean(wrong("name"))}
          placeholder="Strength, outward"
          maxLength={80}
          value={one.name}
          onChange={(event) => onChange({ ...one, name: event.target.value })}
        />
      )}
      {takes.map(([amount, label]) => (
        <label key={amount}>
          <input
            aria-label={`${called}: ${label}`}
            aria-invalid={Boolean(wrong(amount))}
            inputMode="decimal"
            value={one[amount]}
            onChange={(event) => onChange({ ...one, [amount]: event.target.value })}
          />{" "}
          {label}
        </label>
      ))}
      {said && (
        <span role="alert" className="field-error">
          {said}
        </span>
      )}
    </div>
  );
}
