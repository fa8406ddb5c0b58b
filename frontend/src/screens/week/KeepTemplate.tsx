import { useState } from "react";
import { api, ask } from "../../api/client";
import type { Place } from "../../frame/place";
import { SESSION_KINDS } from "../../frame/sessionKinds";
import { useToast } from "../../frame/toast";
import { Checks, Group } from "../../kit/fields";
import { Form, TextField, useSending } from "../../kit/form";
import { sentOf, type TypedTemplate, wrongTyped } from "./templateStates";

type Kind = keyof typeof SESSION_KINDS;
const KINDS = (Object.keys(SESSION_KINDS) as Kind[]).filter((kind) => kind !== "match");

/** Weeks of the calendar kept as a template, with whom they were written for. */
export function KeepTemplate({ place, sport }: { place: Place; sport: string }) {
  const { slug } = place.squad;
  const toast = useToast();
  const [kinds, setKinds] = useState<Kind[]>(["gym"]);
  const start: TypedTemplate = {
    name: "",
    of: place.day,
    weeks: "1",
    years_least: "",
    years_most: "",
    sport,
    sport_days: "",
    longest: "",
  };
  const of = useSending({
    start,
    check: wrongTyped,
    send: (typed) =>
      ask(
        api.POST("/api/squads/{slug}/week/templates", {
          params: { path: { slug } },
          body: { ...sentOf(typed), kinds },
        }),
      ),
    saved: (kept, typed) => {
      toast(`${typed.name.trim()} is kept.`);
      const made = kept.templates.find((one) => one.name === typed.name.trim());
      place.set({ keep: null, template: made?.id ?? null });
    },
    renews: [slug, "templates"],
  });
  return (
    <Form
      of={of}
      head="Keep weeks as a template"
      action="Keep them"
      onLeave={() => place.set({ keep: null })}
      leave="Close"
    >
      <TextField of={of} name="name" label="Name" maxLength={80} />
      <div className="template-pair">
        <TextField of={of} name="of" label="From the week of" type="date" />
        <TextField of={of} name="weeks" label="Weeks" inputMode="numeric" />
      </div>
      <Group label="Sessions" error={of.wrong("kinds") ?? null}>
        <Checks all={KINDS} chosen={kinds} onChange={setKinds} names={SESSION_KINDS} />
      </Group>
      <h3>For whom it was written</h3>
      <div className="template-pair">
        <TextField of={of} name="years_least" label="Years of training, least" inputMode="decimal" />
        <TextField of={of} name="years_most" label="Years, most" inputMode="decimal" />
      </div>
      <TextField of={of} name="sport" label="Sport" maxLength={40} />
      <div className="template-pair">
        <TextField of={of} name="sport_days" label="Sport days a week beside" inputMode="decimal" />
        <TextField of={of} name="longest" label="Longest session, min" inputMode="decimal" />
      </div>
    </Form>
  );
}
