import { Button, Input } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { type Accounts, api, ask, type Invited, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled } from "../../kit/fields";
import { Form, TextField, useSending } from "../../kit/form";
import { useDoing } from "../../kit/useDoing";

type Member = Accounts["members"][number];

interface MemberPanelProps {
  place: Place;
  member: Member;
  user: Accounts["users"][number] | undefined;
  onMade: (invited: Invited[]) => void;
}

/** One athlete's place in the squad, with days: position, number, last day; and what they may ask of their data. */
export function MemberPanel({ place, member, user, onMade }: MemberPanelProps) {
  const { slug } = place.squad;
  const newPassword = useDoing(
    [slug, "accounts"],
    (user_id: number) =>
      ask(
        api.POST("/api/squads/{slug}/accounts/{user_id}/new-password", {
          params: { path: { slug, user_id } },
        }),
      ),
    (made) => onMade([made]),
  );
  return (
    <>
      <h2 className="side-head">{member.name}</h2>
      {place.may("invite") && <Position place={place} member={member} />}
      {place.may("invite") && <Correction place={place} member={member} />}
      {place.may("invite") && <LastDay place={place} member={member} />}
      {user && (
        <p>
          Signs in as <b>{user.login}</b>
          {!user.active && ", switched off"}.{" "}
          {(place.may("relink_athletes") || place.may("run_club")) && user.active && (
            <button type="button" className="text-button" onClick={() => newPassword.mutate(user.id)}>
              Link to a new password
            </button>
          )}
        </p>
      )}
      {place.may("manage_people") && <TheirData place={place} member={member} />}
    </>
  );
}

function Position({ place, member }: { place: Place; member: Member }) {
  const { slug, today } = place.squad;
  const toast = useToast();
  const of = useSending({
    start: {
      position: member.position,
      number: member.number == null ? "" : String(member.number),
      from: today,
    },
    send: ({ position, number, from }) =>
      ask(
        api.PUT("/api/squads/{slug}/members/{athlete_id}", {
          params: { path: { slug, athlete_id: member.athlete_id } },
          body: { position, number: number.trim() ? Number(number) : null, from_day: from },
        }),
      ),
    saved: (_done, { position, from }) => toast(`${member.name} is ${position}, from ${from}.`),
    renews: [slug],
  });
  return (
    <Form
      of={of}
      action="Change from that day"
      leave="Close"
      onLeave={() => place.set({ athlete: null }, true)}
    >
      <div className="form-pair">
        <TextField of={of} name="position" label="Position" maxLength={40} />
        <TextField of={of} name="number" label="Number" inputMode="numeric" />
      </div>
      <TextField of={of} name="from" also={["from_day"]} label="From" type="date" />
    </Form>
  );
}

/** What was wrong from the beginning: the name, or since when. */
function Correction({ place, member }: { place: Place; member: Member }) {
  const { slug } = place.squad;
  const toast = useToast();
  const of = useSending({
    start: { name: member.name, since: member.since },
    check: ({ name, since }) => ({
      name: !name.trim() && "An athlete has a name.",
      since: !since && "Choose the day.",
    }),
    send: ({ name, since }) =>
      ask(
        api.PUT("/api/squads/{slug}/members/{athlete_id}/correction", {
          params: { path: { slug, athlete_id: member.athlete_id } },
          body: { name, from_day: since },
        }),
      ),
    saved: (_done, { name, since }) => toast(`${name.trim()} is in the squad from ${since}.`),
    renews: [slug],
  });
  return (
    <Form of={of} action="Correct it">
      <TextField of={of} name="name" label="Name" maxLength={120} />
      <TextField of={of} name="since" also={["from_day"]} label="In the squad from" type="date" />
    </Form>
  );
}

function LastDay({ place, member }: { place: Place; member: Member }) {
  const { slug } = place.squad;
  const toast = useToast();
  const of = useSending({
    start: { to_day: "" },
    check: ({ to_day }) => ({ to_day: to_day ? null : "Choose the day." }),
    send: (body) =>
      ask(
        api.PUT("/api/squads/{slug}/members/{athlete_id}/last-day", {
          params: { path: { slug, athlete_id: member.athlete_id } },
          body,
        }),
      ),
    saved: (_done, { to_day }) => toast(`${to_day} is the last day of ${member.name} in the squad.`),
    renews: [slug],
  });
  return (
    <Form of={of} action="Let it be the last day">
      <TextField of={of} name="to_day" label="Last day in the squad" type="date" />
    </Form>
  );
}

/** What an athlete may ask for: a copy of everything, to be made nameless, or to be erased. */
function TheirData({ place, member }: { place: Place; member: Member }) {
  const queries = useQueryClient();
  const toast = useToast();
  const [typed, setTyped] = useState("");
  const path = { slug: place.squad.slug, athlete_id: member.athlete_id };
  const forget = useMutation<unknown, Problem, boolean>({
    mutationFn: (everything) =>
      ask(
        api.POST("/api/squads/{slug}/members/{athlete_id}/forget", {
          params: { path },
          body: { everything, name: typed },
        }),
      ),
    onSuccess: () => {
      toast("It is done, and noted in the audit.");
      place.set({ athlete: null }, true);
      askAgain(queries, [path.slug]);
    },
  });
  return (
    <section aria-label="Their data">
      <h3 className="side-head">Their data</h3>
      <p>
        <a
          className="text-button"
          href={`/api/squads/${path.slug}/members/${path.athlete_id}/copy.zip`}
          download
        >
          A copy of everything
        </a>{" "}
        as JSON and CSV.
      </p>
      <Labelled label="At their request only. Type the name to be sure" error={forget.error?.message}>
        <Input size="sm" value={typed} onChange={(event) => setTyped(event.target.value)} />
      </Labelled>
      <p>
        <Button
          size="xs"
          variant="outline"
          disabled={typed !== member.name}
          onClick={() => forget.mutate(false)}
        >
          Make nameless, keep the loads
        </Button>{" "}
        <Button
          size="xs"
          variant="outline"
          disabled={typed !== member.name}
          onClick={() => forget.mutate(true)}
        >
          Erase everything
        </Button>
      </p>
      <p className="quiet">This cannot be undone.</p>
    </section>
  );
}
