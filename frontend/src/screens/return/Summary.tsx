import { api, ask, type ReturnWhole } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { AreaField, Form, TextField, useSending } from "../../kit/form";

/** A plan on paper for another clinic: for whom, and how the athlete agreed. Without that nothing is given out. */
export function Summary({ place, whole }: { place: Place; whole: ReturnWhole }) {
  const { slug } = place.squad;
  const toast = useToast();
  const leave = () => place.set({ begin: null });
  const of = useSending<{ to: string; consent: string }, Blob>({
    start: { to: "", consent: "" },
    check: (typed) => ({
      to: !typed.to.trim() && "Say who it is for.",
      consent: !typed.consent.trim() && "Say how and when the athlete agreed.",
    }),
    send: async (typed) => {
      const params = { path: { slug, plan_id: whole.row.plan_id } };
      const body = { day: place.day, ...typed };
      const path = "/api/squads/{slug}/return/{plan_id}/summary";
      return (await ask<unknown>(api.POST(path, { params, body, parseAs: "blob" }))) as Blob;
    },
    saved: (pdf) => {
      hand(pdf, `way-back-${place.day}.pdf`);
      toast("The summary is made, and stands with the plan.");
      leave();
    },
    renews: [slug],
  });
  return (
    <Form of={of} head={`Summary of ${whole.row.name}`} action="Make the PDF" leave="Close" onLeave={leave}>
      <p className="quiet">
        Stage, criteria with their evidence, load climbed back and what happened, your note included. That it
        was given, to whom and by whose leave, stands with the plan.
      </p>
      <TextField
        of={of}
        autoFocus
        name="to"
        label="For"
        maxLength={160}
        placeholder="the clinic, and who there"
      />
      <AreaField of={of} name="consent" label="How and when the athlete agreed" maxLength={240} />
    </Form>
  );
}

/** Hand a file to the browser, to be kept where the person keeps files. */
function hand(file: Blob, name: string) {
  const link = document.createElement("a");
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
