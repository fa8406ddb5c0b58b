import { Button, Input, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import {
  api,
  ask,
  type LimitItem,
  type Limits,
  type NewLimit,
  type Problem,
  type RuleItem,
} from "../../api/client";
import { Labelled, Select, typedNumber } from "../../frame/fields";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { ulid } from "../../frame/ulid";
import { usePeople } from "../../frame/usePeople";
import { SCHOOLS } from "./schools";

export interface LimitStart {
  rule: string;
  /** An athlete's id, "choose" for one still to be picked, null for the squad. */
  athlete: number | "choose" | null;
  channel?: string;
  /** The limit whose terms to begin with. */
  like?: LimitItem;
}

interface LimitFormProps {
  place: Place;
  limits: Limits;
  start: LimitStart;
  onDone: () => void;
}

/** A share is typed in per cent, everything else as it is. */
const shown = (rule: RuleItem | undefined, value: number) =>
  String(rule?.unit === "share" ? round(value * 100) : value);
const round = (value: number) => Math.round(value * 1e6) / 1e6;

const UNITS: Record<RuleItem["unit"], string> = {
  share: "%",
  ratio: "times base load",
  load: "",
  days: "days",
  plain: "",
};

export function LimitForm({ place, limits, start, onDone }: LimitFormProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const { like } = start;
  const [code, setCode] = useState(start.rule);
  const rule = limits.rules.find((one) => one.code === code);
  const [value, setValue] = useState(like ? shown(rule, like.value) : "");
  const [channel, setChannel] = useState(like?.channel ?? start.channel ?? limits.channels[0]?.code ?? "");
  const [school, setSchool] = useState<string>(like?.school ?? "ewma");
  const [over, setOver] = useState(String(like?.over ?? 1));
  const [hard, setHard] = useState(like?.hard ?? true);
  const [scope, setScope] = useState<NewLimit["scope"]>(
    start.athlete === null ? (like?.scope ?? "squad") : "athlete",
  );
  const [athlete, setAthlete] = useState(typeof start.athlete === "number" ? String(start.athlete) : "");
  const [position, setPosition] = useState(like?.position ?? "");
  const [from, setFrom] = useState(place.squad.today);
  const [reason, setReason] = useState("");
  const { athletes, positions } = usePeople(place);

  const undo = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/limits/{limit_id}", {
          params: { path: { slug: place.squad.slug, limit_id: id } },
        }),
      ),
    onSettled: () => askAgain(queries, [place.squad.slug]),
    onError: (problem) => toast(problem.message),
  });
  const save = useMutation<LimitItem, Problem, NewLimit>({
    mutationFn: (body) =>
      ask(api.POST("/api/squads/{slug}/limits", { params: { path: { slug: place.squad.slug } }, body })),
    onSuccess: (limit) => {
      askAgain(queries, [place.squad.slug]);
      toast(`${limit.title} is ${limit.said} for ${limit.whom}.`, () => undo.mutate(limit.id));
      onDone();
    },
  });
  const typed = typedNumber(value);
  const wrong = Number.isNaN(typed) ? "A number, such as 15." : null;
  const [tried, setTried] = useState(false);
  const missing = {
    value: wrong,
    athlete_id: scope === "athlete" && !athlete ? "Choose an athlete." : null,
    position: scope === "position" && !position ? "Choose a position." : null,
    reason: reason.trim() ? null : "Say why: the reason stands beside the limit.",
  };
  const error = (field: keyof typeof missing | "from_day" | "school" | "over") =>
    (tried && field in missing ? missing[field as keyof typeof missing] : null) ?? save.error?.of(field);

  const loadUnit = limits.channels.find((one) => one.code === channel)?.unit ?? "";
  const unit = rule?.unit === "load" ? loadUnit : rule && UNITS[rule.unit];

  const submit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (Object.values(missing).some(Boolean)) return;
    save.mutate({
      id: ulid(),
      channel,
      rule: code,
      value: rule?.unit === "share" ? round(typed / 100) : typed,
      over: rule?.has_over ? typedNumber(over) : null,
      school: rule?.has_school ? (school as NewLimit["school"]) : null,
      hard,
      scope,
      position: scope === "position" ? position : null,
      athlete_id: scope === "athlete" ? Number(athlete) : null,
      from_day: from,
      source: like && like.value === typed ? like.source : "",
      reason,
    });
  };
  return (
    <form onSubmit={submit} noValidate>
      <h2 style={{ margin: 0, fontSize: 19, fontWeight: 700 }}>{like ? "Change a limit" : "Set a limit"}</h2>
      <div className="form-rows">
        <Labelled label="Limit">
          <Select label="Limit" value={code} onChange={setCode}>
            {limits.rules.map((one) => (
              <option key={one.code} value={one.code}>
                {one.title}
              </option>
            ))}
          </Select>
        </Labelled>
        <Labelled label="Channel">
          <Select label="Channel" value={channel} onChange={setChannel} disabled={Boolean(like)}>
            {limits.channels.map((one) => (
              <option key={one.code} value={one.code}>
                {one.name}
              </option>
            ))}
          </Select>
        </Labelled>
        <div className="form-pair">
          <Labelled label="For">
            <Select label="For" value={scope} onChange={(next) => setScope(next as NewLimit["scope"])}>
              <option value="squad">the squad</option>
              <option value="position">a position</option>
              <option value="athlete">one athlete</option>
            </Select>
          </Labelled>
          {scope === "athlete" && (
            <Labelled label="Athlete" error={error("athlete_id")}>
              <Select label="Athlete" value={athlete} onChange={setAthlete}>
                <option value="">choose</option>
                {athletes.map((one) => (
                  <option key={one.athlete_id} value={one.athlete_id}>
                    {one.name}
                  </option>
                ))}
              </Select>
            </Labelled>
          )}
          {scope === "position" && (
            <Labelled label="Position" error={error("position")}>
              <Select label="Position" value={position} onChange={setPosition}>
                <option value="">choose</option>
                {positions.map((one) => (
                  <option key={one}>{one}</option>
                ))}
              </Select>
            </Labelled>
          )}
        </div>
        <div className="form-pair">
          <Labelled label={unit ? `Value, ${unit}` : "Value"} error={error("value")}>
            <Input
              size="sm"
              inputMode="decimal"
              value={value}
              onChange={(event) => setValue(event.target.value)}
            />
          </Labelled>
          <Labelled label="How binding">
            <Select
              label="How binding"
              value={hard ? "hard" : "advisory"}
              onChange={(next) => setHard(next === "hard")}
            >
              <option value="hard">hard: sets room</option>
              <option value="advisory">advisory: a notice only</option>
            </Select>
          </Labelled>
        </div>
        {rule?.has_over && (
          <Labelled label="One week may go over by, days" error={error("over")}>
            <Input
              size="sm"
              inputMode="numeric"
              value={over}
              onChange={(event) => setOver(event.target.value)}
            />
          </Labelled>
        )}
        {rule?.has_school && (
          <Labelled label="School" error={error("school")}>
            <Select label="School" value={school} onChange={setSchool}>
              {Object.entries(SCHOOLS).map(([one, name]) => (
                <option key={one} value={one}>
                  {name}
                </option>
              ))}
            </Select>
          </Labelled>
        )}
        <Labelled label="From" error={error("from_day")}>
          <Input size="sm" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
        </Labelled>
        <Labelled label="Reason" error={error("reason")}>
          <Textarea
            size="sm"
            rows={2}
            maxLength={400}
            value={reason}
            onChange={(event) => setReason(event.target.value)}
          />
        </Labelled>
        {save.error && save.error.errors.length === 0 && (
          <p className="field-error" role="alert">
            {save.error.message}
          </p>
        )}
        <div style={{ display: "flex", gap: 14, alignItems: "center" }}>
          <Button type="submit" size="sm" loading={save.isPending}>
            Put in force
          </Button>
          <button type="button" className="text-button" onClick={onDone}>
            Leave as it is
          </button>
        </div>
        {rule && (
          <p className="quiet" style={{ fontSize: 12.5, margin: 0 }}>
            Source: {rule.source}. Limits are agreed by the squad’s staff; none of them predicts an injury.
          </p>
        )}
      </div>
    </form>
  );
}
