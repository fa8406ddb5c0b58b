import { useState } from "react";
import { ulid } from "ulid";
import { api, ask, type LimitItem, type Limits } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { usePeople } from "../../frame/usePeople";
import { AreaField, ChoiceField, Form, type Sending, TextField, useSending } from "../../kit/form";
import { useDoing } from "../../kit/useDoing";
import { SCHOOLS } from "./schools";
import {
  begun,
  checkLimit,
  type LimitStart,
  readyLimit,
  ruleOf,
  type TypedLimit,
  unitOf,
} from "./typedLimit";

interface LimitFormProps {
  place: Place;
  limits: Limits;
  start: LimitStart;
  onDone: () => void;
}

export function LimitForm({ place, limits, start, onDone }: LimitFormProps) {
  const { like } = start;
  const slug = place.squad.slug;
  const toast = useToast();
  // One limit, however often it is sent.
  const [id] = useState(() => ulid());
  const undo = useDoing([slug], (limit_id: string) =>
    ask(api.DELETE("/api/squads/{slug}/limits/{limit_id}", { params: { path: { slug, limit_id } } })),
  );
  const of = useSending<TypedLimit, LimitItem>({
    start: begun(place, limits, start),
    check: checkLimit,
    send: (typed, shown) => {
      const body = readyLimit(limits, like, id, typed, shown as string | null);
      return ask(api.POST("/api/squads/{slug}/limits", { params: { path: { slug } }, body }));
    },
    saved: (limit) => {
      toast(`${limit.title} is ${limit.said} for ${limit.whom}.`, () => undo.mutate(limit.id));
      onDone();
    },
    renews: [slug],
  });
  const rule = ruleOf(limits, of.typed.rule);
  const unit = unitOf(limits, of.typed);
  const foot = rule && (
    <p className="form-foot">
      Source: {rule.source}. Limits are agreed by the squad’s staff; none of them predicts an injury.
    </p>
  );
  return (
    <Form
      of={of}
      head={like ? "Change a limit" : "Set a limit"}
      action="Put in force"
      onLeave={onDone}
      foot={foot}
    >
      <ChoiceField
        of={of}
        name="rule"
        label="Limit"
        options={limits.rules.map((one) => [one.code, one.title])}
      />
      <ChoiceField
        of={of}
        name="channel"
        label="Channel"
        options={limits.channels.map((one) => [one.code, one.name])}
        disabled={Boolean(like)}
      />
      <ForWhom of={of} place={place} />
      <div className="form-pair">
        <TextField of={of} name="value" label={unit ? `Value, ${unit}` : "Value"} inputMode="decimal" />
        <ChoiceField of={of} name="binding" label="How binding" options={BINDING} />
      </div>
      {rule?.has_over && (
        <TextField of={of} name="over" label="One week may go over by, days" inputMode="numeric" />
      )}
      {rule?.has_school && (
        <ChoiceField of={of} name="school" label="School" options={Object.entries(SCHOOLS)} />
      )}
      <TextField of={of} name="from" also={["from_day"]} label="From" type="date" />
      <AreaField of={of} name="reason" label="Reason" maxLength={400} />
    </Form>
  );
}

const BINDING = [
  ["hard", "hard: sets room"],
  ["advisory", "advisory: a notice only"],
] as const;

const SCOPES = [
  ["squad", "the squad"],
  ["position", "a position"],
  ["athlete", "one athlete"],
] as const;

function ForWhom({ of, place }: { of: Sending<TypedLimit>; place: Place }) {
  const { athletes, positions } = usePeople(place);
  const { scope } = of.typed;
  return (
    <div className="form-pair">
      <ChoiceField of={of} name="scope" label="For" options={SCOPES} />
      {scope === "athlete" && (
        <ChoiceField
          of={of}
          name="athlete"
          also={["athlete_id"]}
          label="Athlete"
          none="choose"
          options={athletes.map((one) => [String(one.athlete_id), one.name])}
        />
      )}
      {scope === "position" && (
        <ChoiceField
          of={of}
          name="position"
          label="Position"
          none="choose"
          options={positions.map((one) => [one, one])}
        />
      )}
    </div>
  );
}
