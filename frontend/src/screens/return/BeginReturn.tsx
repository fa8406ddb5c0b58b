import { useQuery } from "@tanstack/react-query";
import { useRef } from "react";
import { api, ask, type NewReturn, type ReturnTemplate } from "../../api/client";
import { returnTemplatesQuery } from "../../api/queries/return";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { usePeople } from "../../frame/usePeople";
import { typedNumber } from "../../kit/fields";
import { AreaField, ChoiceField, Form, type Sending, TextField, useSending } from "../../kit/form";
import { bodyOf, CLINICAL, KINDS, MECHANISMS, ONSETS, SCHOOLS, SITES, type TypedReturn } from "./begin";
import { useTakeBegun } from "./useTakeBegun";

/** A plan to come back: for whom, from what, off since when, back when, ready by when. */
export function BeginReturn({ place }: { place: Place }) {
  const { slug } = place.squad;
  const toast = useToast();
  const clinician = place.may("edit_clinical");
  const { athletes } = usePeople(place);
  const templates = useQuery({ ...returnTemplatesQuery(slug), enabled: clinician });
  const leave = { begin: null, who: null, off: null, back: null, from: null };
  const back = useTakeBegun(place);
  const running = useRef<string>(undefined);
  const of: Sending<TypedReturn> = useSending<TypedReturn, { id: string }>({
    start: {
      athlete_id: place.get("who") ?? "",
      kind: clinician && place.get("from") !== "rest" ? "injury" : "layoff",
      template: "blank",
      site: "",
      side: "",
      first_off: place.get("off") ?? "",
      first_day: place.get("back") ?? place.day,
      target_day: "",
      needed: "100",
      school: "standard",
      usual: "",
      note: "",
      onset: "",
      mechanism: "",
      replaces: false,
    },
    check: (typed) => ({
      athlete_id: !typed.athlete_id && "Choose who comes back.",
      first_off: typed.kind !== "new" && !typed.first_off && "Say the first day off.",
      first_day: !typed.first_day && "Say the first day back.",
      needed: !(typedNumber(typed.needed) > 0) && "A share such as 90.",
      usual: typed.usual.trim() && !(typedNumber(typed.usual) > 0) && "A load such as 2400.",
    }),
    send: (typed) =>
      ask(
        api.POST("/api/squads/{slug}/return", {
          params: { path: { slug } },
          body: bodyOf(typed, running.current),
        }),
      ),
    saved: ({ id }) => {
      toast("The plan stands. Morning, sheet, phone, session and week go by it.", () => back.mutate([id]));
      place.set({ ...leave, plan: id });
    },
    renews: [slug],
  });
  const { kind } = of.typed;
  running.current = of.problem?.body.running as string | undefined;
  const clinical = CLINICAL.has(kind as NewReturn["kind"]);
  return (
    <Form of={of} head="A plan to come back" action="Begin" leave="Close" onLeave={() => place.set(leave)}>
      <ChoiceField
        of={of}
        name="athlete_id"
        label="Who"
        none="choose"
        options={athletes.map((one) => [String(one.athlete_id), one.name])}
      />
      <ChoiceField
        of={of}
        name="kind"
        label="Back from"
        options={KINDS.filter(([one]) => clinician || !CLINICAL.has(one))}
      />
      {clinical && <Clinical of={of} templates={templates.data?.templates ?? []} />}
      {kind !== "new" && <TextField of={of} name="first_off" label="First day off" type="date" />}
      <TextField of={of} name="first_day" label="First day back" type="date" />
      <TextField of={of} name="target_day" label="Ready by (optional)" type="date" />
      <TextField of={of} name="needed" label="By then, per cent of a usual week" inputMode="decimal" />
      <ChoiceField of={of} name="school" label="How it climbs" options={SCHOOLS} />
      <TextField
        of={of}
        name="usual"
        label={
          kind === "new"
            ? "Usual week load, as they say"
            : "Usual week load, where it is not the four weeks before"
        }
        inputMode="decimal"
      />
      {clinical && <AreaField of={of} name="note" label="Note, for clinicians" maxLength={400} />}
      {of.problem?.body.running !== undefined && (
        <label>
          <input type="checkbox" {...of.form.register("replaces")} /> Let this one take the place of the plan
          that runs
        </label>
      )}
    </Form>
  );
}

interface ClinicalProps {
  of: Sending<TypedReturn>;
  templates: ReturnTemplate[];
}

/** What only a clinician says: by which stages, where it is, and how it came about. */
function Clinical({ of, templates }: ClinicalProps) {
  const refers = templates.find((one) => one.code === of.typed.template)?.refers;
  return (
    <>
      <ChoiceField
        of={of}
        name="template"
        label="Stages"
        options={templates.map((one) => [
          one.code,
          `${one.name}${one.refers ? "" : `, ${one.stages} stages`}`,
        ])}
      />
      {refers && (
        <p className="over">
          Nothing is laid out for this: refer. The local protocol comes first, and the day stays closed until
          a clinician ends the plan.
        </p>
      )}
      <ChoiceField of={of} name="site" label="Where" none="nowhere in particular" options={SITES} />
      <ChoiceField of={of} name="onset" label="It came" none="not said" options={ONSETS} />
      <ChoiceField of={of} name="mechanism" label="By" none="not said" options={MECHANISMS} />
      {of.typed.site && (
        <ChoiceField
          of={of}
          name="side"
          label="Side"
          none="no side"
          options={[
            ["left", "left"],
            ["right", "right"],
          ]}
        />
      )}
    </>
  );
}
