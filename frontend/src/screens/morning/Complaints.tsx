import { Button, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type ComplaintItem, type Problem, type Reports } from "../../api/client";
import { clockTime, mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { type Answer, AnswerForm } from "./AnswerForm";
import { isNew } from "./reports";

/** Pain, illness and injury as they come in; new ones stand first. Only who may read clinical detail sees this. */
export function Complaints({ place, reports }: { place: Place; reports: Reports }) {
  const open = together((reports.complaints ?? []).filter((one) => one.closed_on === null));
  const rows = new Map(reports.rows.map((row) => [row.athlete_id, row]));
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
        {open.map((told) => (
          <Complaint
            key={told[0]?.id}
            place={place}
            told={told}
            name={rows.get(told[0]?.athlete_id ?? 0)?.name ?? ""}
            stands={rows.get(told[0]?.athlete_id ?? 0)?.availability?.id ?? null}
          />
        ))}
      </ul>
    </section>
  );
}

/** What was told of one place on several days stands together, newest first; what nobody has seen yet comes first. */
export function together(complaints: ComplaintItem[]): ComplaintItem[][] {
  const byPlace = new Map<string, ComplaintItem[]>();
  const newestFirst = [...complaints].sort((one, other) => other.told_at.localeCompare(one.told_at));
  for (const one of newestFirst) {
    const key = `${one.athlete_id} ${one.kind} ${one.said.split(",")[0]}`;
    byPlace.set(key, [...(byPlace.get(key) ?? []), one]);
  }
  return [...byPlace.values()].sort((one, other) => Number(other.some(isNew)) - Number(one.some(isNew)));
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
      askAgain(queries, [place.squad.slug]);
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

/** How bad it was from day to day, oldest first, such as ": 2, 3, 4". */
function courseOf(told: ComplaintItem[]): string {
  const severities = told.map((one) => one.said.match(/(\d+) of 10/)?.[1]).filter(Boolean);
  return severities.length > 1 ? `: ${severities.reverse().join(", ")}` : "";
}

interface ComplaintProps {
  place: Place;
  /** The same complaint as told on several days, newest first. */
  told: ComplaintItem[];
  name: string;
  /** What stands of their training, by its identifier. */
  stands: string | null;
}

/** `versions` are those that the answer before made, for taking it back. */
type Saved = { closed: boolean; versions?: number[] } & Partial<Answer>;

function Complaint(props: ComplaintProps) {
  const [complaint] = props.told;
  return complaint ? <OneComplaint {...props} complaint={complaint} /> : null;
}

function OneComplaint({
  place,
  told,
  complaint,
  name,
  stands,
}: ComplaintProps & { complaint: ComplaintItem }) {
  const unseen = told.some(isNew);
  const queries = useQueryClient();
  const toast = useToast();
  const [answering, setAnswering] = useState(false);
  // All of them are seen, and over, together; a note is of the newest.
  const save = useMutation<ComplaintItem[], Problem, Saved>({
    mutationFn: ({ closed, answer = complaint.answer, again_on = null, allowed = null, versions }) =>
      Promise.all(
        told.map((one, i) =>
          ask(
            api.PUT("/api/squads/{slug}/complaints/{complaint_id}", {
              params: { path: { slug: place.squad.slug, complaint_id: one.id } },
              body: {
                closed,
                again_on,
                version: versions?.[i] ?? one.version,
                answer: one === complaint ? answer : one.answer,
                allowed: one === complaint && allowed ? { ...allowed, replaces: stands } : null,
              },
            }),
          ),
        ),
      ),
    onSuccess: (saved, { closed }) => {
      setAnswering(false);
      // What a clinician says changes the day everywhere.
      askAgain(queries, [place.squad.slug]);
      const versions = saved.map((one) => one.version);
      if (closed)
        toast(`${name}: ${complaint.said} is closed.`, () => save.mutate({ closed: false, versions }));
    },
  });
  const edit = place.may("edit_clinical");
  return (
    <li className={unseen ? "new" : undefined}>
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
        {told.length > 1 &&
          `, told on ${told.length} days since ${mediumDay(told.at(-1)?.day ?? "")}${courseOf(told)}`}
        {complaint.seen_by && `, seen by ${complaint.seen_by}`}
        {complaint.again_on && `, to be seen again on ${mediumDay(complaint.again_on)}`}
      </span>
      {told
        .filter((one) => one.words)
        .map((one) => (
          <q key={one.id}>{one.words}</q>
        ))}
      {complaint.answer && !answering && <p>{complaint.answer}</p>}
      {edit && !answering && (
        <span className="actions">
          {unseen && (
            <button type="button" className="text-button" onClick={() => save.mutate({ closed: false })}>
              Seen
            </button>
          )}
          <button type="button" className="text-button" onClick={() => setAnswering(true)}>
            {unseen ? "Answer" : "Note"}
          </button>
          <button type="button" className="text-button" onClick={() => save.mutate({ closed: true })}>
            It is over
          </button>
        </span>
      )}
      {answering && (
        <AnswerForm
          place={place}
          name={name}
          start={complaint.answer ?? ""}
          saving={save.isPending}
          problem={save.error}
          onSave={(answer) => save.mutate({ closed: false, ...answer })}
          onLeave={() => setAnswering(false)}
        />
      )}
    </li>
  );
}
