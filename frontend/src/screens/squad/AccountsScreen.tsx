import { Button, Input } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { type Accounts, api, ask, type Invited, type Problem, type Role } from "../../api/client";
import { accountsQuery } from "../../api/queries/squad";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled, Select } from "../../kit/fields";
import { Table } from "../../kit/Table";
import { ClubChoices } from "./ClubChoices";
import { DeleteSquad } from "./DeleteSquad";
import { JoinSheet } from "./JoinSheet";
import { MemberPanel } from "./MemberPanel";
import { NewMember } from "./NewMember";
import { PastePeople } from "./PastePeople";
import { SquadTabs } from "./SquadTabs";
import "./squad.css";
import "./accounts.css";

const ROLES: Record<Exclude<Role, "athlete">, string> = {
  performance: "performance staff",
  coach: "coach",
  clinician: "clinician",
  admin: "administrator",
};

/** Who is in the squad and who can sign in; one-time links for those who cannot yet. */
export default function AccountsScreen({ place }: { place: Place }) {
  const accounts = useQuery(accountsQuery(place.squad.slug));
  const queries = useQueryClient();
  const [sheet, setSheet] = useState<Invited[]>([]);
  if (accounts.isError)
    return (
      <Message
        title="The accounts could not be loaded"
        action="Try again"
        onAction={() => accounts.refetch()}
      >
        {accounts.error.message}
      </Message>
    );
  if (!accounts.data) return <SquadTabs place={place} />;
  const renew = () => askAgain(queries, [place.squad.slug]);
  if (sheet.length > 0)
    return (
      <JoinSheet
        squad={place.squad.name}
        invited={sheet}
        onDone={() => {
          setSheet([]);
          renew();
        }}
      />
    );
  const asked = place.get("athlete");
  const chosen = accounts.data.members.find((member) => String(member.athlete_id) === asked);
  const without = accounts.data.members.filter((member) => !member.account).length;
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>{accounts.data.members.length - without}</b> of {accounts.data.members.length} athletes can sign
          in
        </h1>
      </div>
      <div className="desk">
        <div className="desk-main">
          <Athletes place={place} accounts={accounts.data} chosen={chosen?.athlete_id} onMade={setSheet} />
          {place.may("manage_people") && <Staff place={place} accounts={accounts.data} onMade={setSheet} />}
          <OpenLinks place={place} accounts={accounts.data} />
        </div>
        <aside
          className={`desk-side${chosen || asked === "new" || asked === MANY ? "" : " closed"}`}
          aria-label="One athlete"
        >
          {asked === MANY ? (
            <PastePeople place={place} />
          ) : asked === "new" ? (
            <NewMember place={place} />
          ) : chosen ? (
            <MemberPanel
              key={asked}
              place={place}
              member={chosen}
              user={accounts.data.users.find((user) => user.athlete_id === chosen.athlete_id)}
              onMade={setSheet}
            />
          ) : place.may("run_club") ? (
            <>
              <ClubChoices place={place} />
              <DeleteSquad place={place} />
            </>
          ) : (
            <p className="quiet">
              Pick an athlete for their position, number and last day. A link works once and for two weeks; no
              mail is sent: print the sheet, or show it.
            </p>
          )}
        </aside>
      </div>
    </>
  );
}

const MANY = "many";

interface PartProps {
  place: Place;
  accounts: Accounts;
  onMade: (invited: Invited[]) => void;
}

function Athletes({ place, accounts, chosen, onMade }: PartProps & { chosen: number | undefined }) {
  const toast = useToast();
  const invite = useMutation<{ invited: Invited[] }, Problem, number[]>({
    mutationFn: (athletes) =>
      ask(
        api.POST("/api/squads/{slug}/invitations/athletes", {
          params: { path: { slug: place.squad.slug } },
          body: { athletes },
        }),
      ),
    onSuccess: (made) => onMade(made.invited),
    onError: (problem) => toast(problem.message),
  });
  const without = accounts.members
    .filter((member) => !member.account && member.linkable)
    .map((member) => member.athlete_id);
  return (
    <>
      <div className="part-head">
        <h2>Athletes</h2>
        {without.length > 0 && (
          <Button size="xs" loading={invite.isPending} onClick={() => invite.mutate(without)}>
            Links for the {without.length} who cannot sign in
          </Button>
        )}
        {place.may("invite") && (
          <button type="button" className="text-button" onClick={() => place.set({ athlete: "new" }, true)}>
            Add an athlete
          </button>
        )}
        {place.may("invite") && (
          <button type="button" className="text-button" onClick={() => place.set({ athlete: MANY }, true)}>
            Add many
          </button>
        )}
      </div>
      <Table
        heads={["Athlete", "Position", { name: "No.", number: true }, "In the squad", "Sign-in"]}
        empty={{ title: "Nobody is in the squad yet", said: "Add somebody, or paste a list of them." }}
      >
        {accounts.members.map((member) => {
          const user = accounts.users.find((one) => one.athlete_id === member.athlete_id);
          return (
            <tr
              key={`${member.athlete_id} ${member.from_day}`}
              className={member.athlete_id === chosen ? "chosen" : undefined}
            >
              <td>
                <button
                  type="button"
                  className="text-button plain"
                  onClick={() => place.set({ athlete: String(member.athlete_id) }, true)}
                >
                  {member.name}
                </button>
              </td>
              <td>{member.position}</td>
              <td className="number figure">{member.number}</td>
              <td className="quiet">
                since {mediumDay(member.from_day)} {member.from_day.slice(0, 4)}
                {member.to_day && `, until ${mediumDay(member.to_day)}`}
              </td>
              <td>
                {user ? (
                  user.login
                ) : !member.linkable ? (
                  <span className="quiet">a clinician makes the link</span>
                ) : (
                  <button
                    type="button"
                    className="text-button"
                    aria-label={`Link for ${member.name}`}
                    onClick={() => invite.mutate([member.athlete_id])}
                  >
                    Make a link
                  </button>
                )}
              </td>
            </tr>
          );
        })}
      </Table>
    </>
  );
}

function Staff({ place, accounts, onMade }: PartProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const [name, setName] = useState("");
  const [role, setRole] = useState<keyof typeof ROLES>("coach");
  const slug = place.squad.slug;
  const invite = useMutation<Invited, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/invitations/staff", {
          params: { path: { slug } },
          body: { name, role },
        }),
      ),
    onSuccess: (made) => onMade([made]),
  });
  const newPassword = useMutation<Invited, Problem, number>({
    mutationFn: (user_id) =>
      ask(
        api.POST("/api/squads/{slug}/accounts/{user_id}/new-password", {
          params: { path: { slug, user_id } },
        }),
      ),
    onSuccess: (made) => onMade([made]),
    onError: (problem) => toast(problem.message),
  });
  const setActive = useMutation<unknown, Problem, { user_id: number; active: boolean; name: string }>({
    mutationFn: ({ user_id, active }) =>
      ask(
        api.PUT("/api/squads/{slug}/accounts/{user_id}/active", {
          params: { path: { slug, user_id } },
          body: { active },
        }),
      ),
    onSuccess: (_, { user_id, active, name }) => {
      askAgain(queries, [slug, "accounts"]);
      toast(active ? `${name} can sign in again.` : `${name} can sign in no more.`, () =>
        setActive.mutate({ user_id, active: !active, name }),
      );
    },
    onError: (problem) => toast(problem.message),
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    invite.mutate();
  };
  const staff = accounts.users.filter((user) => user.role !== "athlete");
  return (
    <>
      <div className="part-head">
        <h2>Staff</h2>
      </div>
      <table className="plain-table">
        <tbody>
          {staff.map((user) => (
            <tr key={user.id}>
              <td>{user.name}</td>
              <td>{ROLES[user.role as keyof typeof ROLES]}</td>
              <td className="quiet">
                {user.login}
                {user.second_factor && ", with a code"}
              </td>
              <td className="actions">
                <button
                  type="button"
                  className="text-button"
                  aria-label={`New password for ${user.name}`}
                  onClick={() => newPassword.mutate(user.id)}
                >
                  New password
                </button>{" "}
                <button
                  type="button"
                  className="text-button"
                  aria-label={`${user.active ? "Switch off" : "Switch on"} ${user.name}`}
                  onClick={() =>
                    setActive.mutate({ user_id: user.id, active: !user.active, name: user.name })
                  }
                >
                  {user.active ? "Switch off" : "Switch on"}
                </button>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <form className="invite-staff" onSubmit={submit}>
        <Labelled label="Name of someone new" error={invite.error?.of("name")}>
          <Input size="sm" value={name} onChange={(event) => setName(event.target.value)} />
        </Labelled>
        <Select label="Role" value={role} onChange={(value) => setRole(value as keyof typeof ROLES)}>
          {Object.entries(ROLES).map(([code, said]) => (
            <option key={code} value={code}>
              {said}
            </option>
          ))}
        </Select>
        <Button type="submit" size="sm" variant="outline" disabled={!name.trim()} loading={invite.isPending}>
          Make a link
        </Button>
      </form>
    </>
  );
}

function OpenLinks({ place, accounts }: { place: Place; accounts: Accounts }) {
  const queries = useQueryClient();
  const slug = place.squad.slug;
  const withdraw = useMutation<unknown, Problem, string>({
    mutationFn: (invitation_id) =>
      ask(
        api.DELETE("/api/squads/{slug}/invitations/{invitation_id}", {
          params: { path: { slug, invitation_id } },
        }),
      ),
    onSettled: () => askAgain(queries, [slug, "accounts"]),
  });
  if (accounts.invitations.length === 0) return null;
  return (
    <>
      <div className="part-head">
        <h2>Links not used yet</h2>
      </div>
      <ul className="open-links">
        {accounts.invitations.map((one) => (
          <li key={one.id}>
            {one.name}{" "}
            <span className="quiet">
              {one.new_password ? "to a new password" : `as ${one.role}`}, until{" "}
              {mediumDay(one.expires_at.slice(0, 10))}
            </span>{" "}
            <button
              type="button"
              className="text-button"
              aria-label={`Withdraw the link for ${one.name}`}
              onClick={() => withdraw.mutate(one.id)}
            >
              Withdraw
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
