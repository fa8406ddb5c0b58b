import { Button, Input } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { type Accounts, api, ask, type Invited, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled } from "../../kit/fields";

interface MemberPanelProps {
  place: Place;
  /** Null adds someone new. */
  member: Accounts["members"][number] | null;
  user: Accounts["users"][number] | undefined;
  onMade: (invited: Invited[]) => void;
}

/** One athlete's place in the squad, with days: position, number, last day; and what they may ask of their data. */
export function MemberPanel({ place, member, user, onMade }: MemberPanelProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  const [name, setName] = useState(member?.name ?? "");
  const [position, setPosition] = useState(member?.position ?? "");
  const [number, setNumber] = useState(member?.number == null ? "" : String(member.number));
  const [from, setFrom] = useState(place.squad.today);
  const [last, setLast] = useState("");
  const renew = () => askAgain(queries, [slug]);
  const path = { slug, athlete_id: member?.athlete_id ?? 0 };
  const body = { position, number: number.trim() ? Number(number) : null, from_day: from };
  const save = useMutation<unknown, Problem>({
    mutationFn: () =>
      member
        ? ask(api.PUT("/api/squads/{slug}/members/{athlete_id}", { params: { path }, body }))
        : ask(
            api.POST("/api/squads/{slug}/members", { params: { path: { slug } }, body: { ...body, name } }),
          ),
    onSuccess: () => {
      renew();
      toast(`${name} is ${position}, from ${from}.`);
      if (!member) place.set({ athlete: null }, true);
    },
  });
  const leave = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.PUT("/api/squads/{slug}/members/{athlete_id}/last-day", {
          params: { path },
          body: { to_day: last },
        }),
      ),
    onSuccess: () => {
      renew();
      toast(`${last} is the last day of ${name} in the squad.`);
    },
  });
  const newPassword = useMutation<Invited, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/accounts/{user_id}/new-password", {
          params: { path: { slug, user_id: user?.id ?? 0 } },
        }),
      ),
    onSuccess: (made) => onMade([made]),
    onError: (problem) => toast(problem.message),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <>
      <h2 className="side-head">{member?.name ?? "A new athlete"}</h2>
      <form className="form-rows" onSubmit={submit} noValidate>
        {!member && (
          <Labelled label="Name" error={save.error?.of("name")}>
            <Input size="sm" value={name} onChange={(event) => setName(event.target.value)} />
          </Labelled>
        )}
        <div className="form-pair">
          <Labelled label="Position" error={save.error?.of("position")}>
            <Input size="sm" value={position} onChange={(event) => setPosition(event.target.value)} />
          </Labelled>
          <Labelled label="Number" error={save.error?.of("number")}>
            <Input
              size="sm"
              inputMode="numeric"
              value={number}
              onChange={(event) => setNumber(event.target.value.replace(/\D/g, ""))}
            />
          </Labelled>
        </div>
        <Labelled label="From" error={save.error?.of("from_day")}>
          <Input size="sm" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
        </Labelled>
        <div>
          <Button type="submit" size="sm" loading={save.isPending}>
            {member ? "Change from that day" : "Add to the squad"}
          </Button>{" "}
          <button type="button" className="text-button" onClick={() => place.set({ athlete: null }, true)}>
            Close
          </button>
        </div>
      </form>
      {member && (
        <form
          className="form-rows"
          noValidate
          onSubmit={(event) => {
            event.preventDefault();
            leave.mutate();
          }}
        >
          <Labelled label="Last day in the squad" error={leave.error?.message}>
            <Input size="sm" type="date" value={last} onChange={(event) => setLast(event.target.value)} />
          </Labelled>
          <div>
            <Button type="submit" size="sm" variant="outline" disabled={!last} loading={leave.isPending}>
              Let it be the last day
            </Button>
          </div>
        </form>
      )}
      {user && (
        <p>
          Signs in as <b>{user.login}</b>.{" "}
          <button type="button" className="text-button" onClick={() => newPassword.mutate()}>
            Link to a new password
          </button>
        </p>
      )}
      {member && place.may("manage_people") && <TheirData place={place} member={member} onDone={renew} />}
    </>
  );
}

/** What an athlete may ask for: a copy of everything, to be made nameless, or to be erased. */
function TheirData({
  place,
  member,
  onDone,
}: {
  place: Place;
  member: Accounts["members"][number];
  onDone: () => void;
}) {
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
      onDone();
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
