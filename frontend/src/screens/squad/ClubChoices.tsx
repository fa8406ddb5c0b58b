import { useQuery } from "@tanstack/react-query";
import { api, ask, type Problem } from "../../api/client";
import type { components } from "../../api/schema";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { typedNumber } from "../../kit/fields";
import { AreaField, Form, TextField, useSending } from "../../kit/form";

type Club = components["schemas"]["ClubOut"];

/** What the club has decided about health data. */
export function ClubChoices({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const club = useQuery({ queryKey: [slug, "club"], queryFn: () => ask(api.GET("/api/club")) });
  if (!club.data) return null;
  return <Choices key={JSON.stringify(club.data)} slug={slug} club={club.data} />;
}

interface Typed {
  reads: boolean;
  days: string;
  text: string;
  name: string;
}

/** How many rows a choice would remove for good, where the server has said so. */
const removes = (problem: Problem | null) =>
  typeof problem?.body.removes === "number" ? problem.body.removes : 0;

function Choices({ slug, club }: { slug: string; club: Club }) {
  const toast = useToast();
  const of = useSending<Typed, Club>({
    start: {
      reads: club.performance_reads_clinical,
      days: club.retention_days === null ? "" : String(club.retention_days),
      text: club.consent_text ?? "",
      name: "",
    },
    check: ({ days }) => ({
      days: days.trim() !== "" && !Number.isInteger(typedNumber(days)) && "Whole days, such as 730.",
    }),
    send: ({ reads, days, text, name }) =>
      ask(
        api.PUT("/api/club", {
          body: {
            performance_reads_clinical: reads,
            retention_days: days.trim() ? typedNumber(days) : null,
            consent_text: text.trim() || null,
            name,
          },
        }),
      ),
    saved: () => toast("The club’s choices are saved."),
    renews: [slug],
  });
  return (
    <Form of={of} head="Health data in this club" action="Save">
      <label className="tick-line">
        <input type="checkbox" {...of.form.register("reads")} /> Performance staff may read pain, illness and
        injuries too
      </label>
      <TextField
        of={of}
        name="days"
        also={["retention_days"]}
        label="Reports are kept for, days; empty keeps them"
        inputMode="numeric"
      />
      {(removes(of.problem) > 0 || of.typed.name !== "") && (
        <TextField of={of} name="name" label={`The name of the club: ${club.name}`} autoComplete="off" />
      )}
      <AreaField
        of={of}
        name="text"
        also={["consent_text"]}
        label="What athletes are asked to agree to"
        rows={7}
      />
    </Form>
  );
}
