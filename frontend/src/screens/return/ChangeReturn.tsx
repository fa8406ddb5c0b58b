import { useState } from "react";
import { api, ask, type ReturnWhole } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { typedNumber } from "../../kit/fields";
import { ChoiceField, Form, TextField, useSending } from "../../kit/form";
import { SCHOOLS, type School } from "./begin";
import { typedSteps } from "./returnStates";

/** The date and the steps of a plan, changed by hand; a quicker way takes a reason. */
export function ChangeReturn({ place, whole }: { place: Place; whole: ReturnWhole }) {
  const { slug } = place.squad;
  const toast = useToast();
  const [open, setOpen] = useState(whole.row.state === "waits");
  const of = useSending({
    start: {
      target_day: whole.row.target ?? "",
      needed: String(whole.needed),
      school: whole.school,
      steps: whole.own_steps ? whole.shares.join(", ") : "",
      usual: "",
      words: "",
    },
    check: ({ needed, steps, usual }) => ({
      needed: !(typedNumber(needed) > 0) && "A share such as 90.",
      shares: steps.trim() && typedSteps(steps) === null && "Steps such as 50, 70, 100.",
      usual: usual.trim() && !(typedNumber(usual) > 0) && "A load such as 2400.",
    }),
    seen: whole.version,
    send: ({ target_day, needed, school, steps, usual, words }, seen) =>
      ask(
        api.PUT("/api/squads/{slug}/return/{plan_id}", {
          params: { path: { slug, plan_id: whole.row.plan_id } },
          body: {
            target_day: target_day || null,
            needed: typedNumber(needed),
            school: school as School,
            shares: typedSteps(steps),
            usual: usual.trim() ? typedNumber(usual) : null,
            words,
            version: seen as number,
          },
        }),
      ),
    saved: () => {
      toast("The plan is changed.");
      setOpen(false);
    },
    renews: [slug],
  });
  return (
    <details className="return-change" open={open} onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary>Change the date or the steps</summary>
      <Form of={of} action="Change">
        <div className="return-fields">
          <TextField of={of} name="target_day" label="Ready by" type="date" />
          <TextField of={of} name="needed" label="By then, %" inputMode="decimal" />
          <ChoiceField of={of} name="school" label="How it climbs" options={SCHOOLS} />
          <TextField
            of={of}
            name="steps"
            also={["shares"]}
            label="Own steps, %"
            placeholder={whole.shares.join(", ")}
          />
          <TextField
            of={of}
            name="usual"
            label="Usual week"
            placeholder={whole.usual ? String(Math.round(whole.usual)) : ""}
          />
          <TextField of={of} name="words" label="Why" maxLength={300} />
        </div>
      </Form>
    </details>
  );
}
