import { Button, Input, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled } from "../../kit/fields";

/** What the club has decided about health data. */
export function ClubChoices({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const club = useQuery({
    queryKey: [slug, "club"],
    queryFn: () => ask(api.GET("/api/squads/{slug}/club", { params: { path: { slug } } })),
  });
  if (!club.data) return null;
  return <Choices key={JSON.stringify(club.data)} slug={slug} club={club.data} />;
}

interface Club {
  performance_reads_clinical: boolean;
  retention_days: number | null;
  consent_text: string | null;
}

function Choices({ slug, club }: { slug: string; club: Club }) {
  const queries = useQueryClient();
  const toast = useToast();
  const [reads, setReads] = useState(club.performance_reads_clinical);
  const [days, setDays] = useState(club.retention_days === null ? "" : String(club.retention_days));
  const [text, setText] = useState(club.consent_text ?? "");
  const save = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.PUT("/api/squads/{slug}/club", {
          params: { path: { slug } },
          body: {
            performance_reads_clinical: reads,
            retention_days: days.trim() ? Number(days) : null,
            consent_text: text.trim() || null,
          },
        }),
      ),
    onSuccess: () => {
      askAgain(queries, [slug]);
      toast("The club’s choices are saved.");
    },
  });
  const sooner = days.trim() !== "" && (club.retention_days === null || Number(days) < club.retention_days);
  return (
    <form
      className="form-rows"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        const gone = `Reports and closed complaints older than ${days} days are removed now, for good. Go on?`;
        if (!sooner || window.confirm(gone)) save.mutate();
      }}
    >
      <h2 className="side-head">Health data in this club</h2>
      <label className="tick-line">
        <input type="checkbox" checked={reads} onChange={(event) => setReads(event.target.checked)} />{" "}
        Performance staff may read pain, illness and injuries too
      </label>
      <Labelled label="Reports are kept for, days; empty keeps them" error={save.error?.of("retention_days")}>
        <Input
          size="sm"
          inputMode="numeric"
          value={days}
          onChange={(event) => setDays(event.target.value.replace(/\D/g, ""))}
        />
      </Labelled>
      <Labelled label="What athletes are asked to agree to" error={save.error?.of("consent_text")}>
        <Textarea size="sm" rows={7} value={text} onChange={(event) => setText(event.target.value)} />
      </Labelled>
      {save.isError && save.error.errors.length === 0 && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <div>
        <Button type="submit" size="sm" loading={save.isPending}>
          Save
        </Button>
      </div>
    </form>
  );
}
