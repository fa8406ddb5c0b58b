import { Button, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type ComplaintItem, type Problem, type Reports } from "../../api/client";
import { clockTime, mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { isNew } from "./reports";

/** Pain, illness and injury as they come in; new ones stand first. Only who may read clinical detail sees this. */
export function Complaints({ place, reports }: { place: Place; reports: Reports }) {
  const all = [...(reports.complaints ?? [])].sort((one, other) => Number(isNew(other)) - Number(isNew(one)));
  const open = all.filter((one) => one.closed_on === null);
  const names = new Map(reports.rows.map((row) => [row.athlete_id, row.name]));
  if (open.length === 0 && reports.referrals.length === 0)
    return <p className="clinical quiet">No pain, illness or injury is open, and nobody is referred.</p>;
  return (
    <section className="clinical" aria-label="For the clinician">
      {reports.referrals.length > 0 && <h2>Referred</h2>}
      <ul>
        {reports.referrals.map((one) => (
          <Referral key={one.id} place={place} one={one} />
        ))}
      </ul>
      <h2>Pain, illness, injury</h2>
      <ul>
        {open.map((one) => (
          <Complaint key={one.id} place={place} complaint={one} name={names.get(one.athlete_id) ?? ""} />
        ))}
      </ul>
    </section>
  );
}

/** Someone that staff referred; what the clinician answers is read by staff beside the call. */
function Referral({ place, one }: { place: Place; one: Reports["referrals"][number] }) {
  const queries = useQueryClient();
  const [words, setWords] = useState("");
  const [open, setOpen] = useState(false);
  const save = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/calls/{call_id}/reply", {
          params: { path: { slug: place.squad.slug, call_id: one.id } },
          body: { reply: words },
        }),
      ),
    onSuccess: () => {
      setOpen(false);
      queries.invalidateQueries({ queryKey: [place.squad.slug] });
    },
  });
  return (
    <li className={one.reply ? undefined : "new"}>
      <b>{one.name}</b>, {mediumDay(one.day)}: {one.reason} <span className="quiet">{one.made_by}</span>
      {one.reply && <div>Reply: {one.reply}</div>}
      {place.may("edit_clinical") &&
        (open ? (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              save.mutate();
            }}
          >
            <Textarea
              size="sm"
              rows={2}
              aria-label={`Reply about ${one.name}`}
              value={words}
              onChange={(event) => setWords(event.target.value)}
            />
            {save.isError && (
              <p role="alert" className="over">
                {save.error.message}
              </p>
            )}
            <Button type="submit" size="xs" loading={save.isPending}>
              Send the reply
            </Button>
          </form>
        ) : (
          <span className="actions">
            <button type="button" className="text-button" onClick={() => setOpen(true)}>
              Reply
            </button>
          </span>
        ))}
    </li>
  );
}

interface ComplaintProps {
  place: Place;
  complaint: ComplaintItem;
  name: string;
}

function Complaint({ place, complaint, name }: ComplaintProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const [answering, setAnswering] = useState(false);
  const [words, setWords] = useState(complaint.answer ?? "");
  const save = useMutation<unknown, Problem, { closed: boolean; answer: string | null }>({
    mutationFn: (body) =>
      ask(
        api.PUT("/api/squads/{slug}/complaints/{complaint_id}", {
          params: { path: { slug: place.squad.slug, complaint_id: complaint.id } },
          body,
        }),
      ),
    onSuccess: (_, { closed }) => {
      setAnswering(false);
      queries.invalidateQueries({ queryKey: [place.squad.slug, "reports"] });
      if (closed)
        toast(`${name}: ${complaint.said} is closed.`, () =>
          save.mutate({ closed: false, answer: complaint.answer }),
        );
    },
    onError: (problem) => toast(problem.message),
  });
  const edit = place.may("edit_clinical");
  return (
    <li className={isNew(complaint) ? "new" : undefined}>
      <button
        type="button"
        className="text-button plain"
        onClick={() => place.set({ athlete: String(complaint.athlete_id) }, true)}
      >
        {name}
      </button>{" "}
      <b>{complaint.said}</b>{" "}
      <span className="quiet">
        {complaint.day === place.squad.today ? "today" : mediumDay(complaint.day)},{" "}
        {clockTime(complaint.told_at, place.squad.time_zone)}
        {complaint.seen_by && `, seen by ${complaint.seen_by}`}
      </span>
      {complaint.words && <q>{complaint.words}</q>}
      {complaint.answer && !answering && <p>{complaint.answer}</p>}
      {edit && !answering && (
        <span className="actions">
          {isNew(complaint) && (
            <button
              type="button"
              className="text-button"
              onClick={() => save.mutate({ closed: false, answer: null })}
            >
              Seen
            </button>
          )}
          <button type="button" className="text-button" onClick={() => setAnswering(true)}>
            {complaint.answer ? "Change the note" : "Note"}
          </button>
          <button
            type="button"
            className="text-button"
            onClick={() => save.mutate({ closed: true, answer: complaint.answer })}
          >
            It is over
          </button>
        </span>
      )}
      {answering && (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            save.mutate({ closed: false, answer: words });
          }}
        >
          <Textarea
            aria-label={`Note on ${name}`}
            rows={2}
            value={words}
            onChange={(e) => setWords(e.target.value)}
          />
          <Button type="submit" size="xs" mt="1" loading={save.isPending}>
            Save the note
          </Button>
        </form>
      )}
    </li>
  );
}
