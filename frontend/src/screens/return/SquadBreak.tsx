import { api, ask } from "../../api/client";
import { plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { ChoiceField, Form, TextField, useSending } from "../../kit/form";
import { SCHOOLS, type School } from "./begin";
import { useTakeBegun } from "./useTakeBegun";

/** A break of the whole squad, planned once: everybody climbs back to their own usual week. */
export function SquadBreak({ place }: { place: Place }) {
  const { slug } = place.squad;
  const toast = useToast();
  const back = useTakeBegun(place);
  const leave = { begin: null, off: null, back: null, by: null };
  const of = useSending({
    start: {
      first_off: place.get("off") ?? plusDays(place.day, 1),
      first_day: place.get("back") ?? plusDays(place.day, 29),
      target_day: place.get("by") ?? "",
      school: "standard",
    },
    check: ({ first_off, first_day }) => ({
      first_off: !first_off && "Say the first day off.",
      first_day: first_day <= first_off && "Back on a day after the first day off.",
    }),
    send: ({ first_off, first_day, target_day, school }) =>
      ask(
        api.POST("/api/squads/{slug}/return/squad-break", {
          params: { path: { slug } },
          body: { first_off, first_day, target_day: target_day || null, school: school as School },
        }),
      ),
    saved: ({ made, left }) => {
      const also = left.length > 0 ? ` ${left.join(", ")} had one already.` : "";
      toast(`${made.length} plans to come back stand.${also}`, () => back.mutate(made));
      place.set({ ...leave, plan: made[0] ?? null });
    },
    renews: [slug],
  });
  return (
    <Form
      of={of}
      head="A break of the whole squad"
      action="Plan it for everybody"
      leave="Close"
      onLeave={() => place.set(leave)}
    >
      <p className="quiet">Everybody without a plan gets one, from their own four weeks before the break.</p>
      <TextField of={of} name="first_off" label="First day off" type="date" />
      <TextField of={of} name="first_day" label="First day back" type="date" />
      <TextField of={of} name="target_day" label="First match (optional)" type="date" />
      <ChoiceField of={of} name="school" label="How it climbs" options={SCHOOLS} />
    </Form>
  );
}
