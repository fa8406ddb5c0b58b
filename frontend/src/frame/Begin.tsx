import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../api/client";
import { Checks, Group } from "../kit/fields";
import { ChoiceField, Form, TextField, useSending } from "../kit/form";
import { Mark } from "./Mark";
import { Message } from "./Message";
import { OWN_ROLES, type OwnRole, ownZone, ROLE_NAMES, zones } from "./zones";

const home = () => window.location.assign("/");

/** What somebody without the link is told while there is no club. */
export function NotBegun() {
  return (
    <Message title="There is no club here yet">
      Whoever started Uvren was shown a link that begins the club, where it was started. Open that link; if it
      is lost, start Uvren again: it prints another.
    </Message>
  );
}

/** Where the link of an empty installation leads: to a club with its first person. */
export function Begin() {
  // After the #, so that no server's log on the way holds it.
  const token = window.location.hash.slice(1);
  const look = useQuery({
    queryKey: ["begin", token],
    queryFn: () => ask(api.POST("/api/begin/look", { body: { token } })),
    retry: false,
    enabled: token.length >= 10,
  });
  if (look.isError || token.length < 10)
    return (
      <Message title="This link works no more" action="Go to the sign-in" onAction={home}>
        It begins a club once, and within a week. As long as there is no club, Uvren prints another one each
        time it is started.
      </Message>
    );
  return look.data ? <BeginForm token={token} /> : null;
}

function BeginForm({ token }: { token: string }) {
  const of = useSending({
    start: {
      club: "",
      time_zone: ownZone(),
      name: "",
      login: "",
      password: "",
      roles: ["performance"] as OwnRole[],
    },
    check: ({ club, name, login, password }) => ({
      club: !club.trim() && "A club has a name.",
      name: !name.trim() && "Say who you are.",
      login: login.trim().length < 3 && "3 characters or more, no spaces.",
      password: password.length < 10 && "10 characters or more.",
    }),
    send: (typed) => ask(api.POST("/api/begin", { body: { token, ...typed } })),
    saved: home,
    renews: ["me"],
  });
  return (
    <main className="gate begin">
      <Mark width={42} />
      <h1>A club of your own</h1>
      <p className="quiet">
        You act for the whole club from here on: you make its squads and let others in. Everything stays on
        this machine.
      </p>
      <Form of={of} action="Begin">
        <TextField of={of} name="club" label="Name of the club" maxLength={80} autoFocus />
        <ChoiceField
          of={of}
          name="time_zone"
          label="Time zone"
          options={zones().map((zone) => [zone, zone])}
        />
        <TextField of={of} name="name" label="Your name" maxLength={80} autoComplete="name" />
        <Group label="You work as" error={of.wrong("roles")}>
          <Checks
            all={OWN_ROLES}
            names={ROLE_NAMES}
            chosen={of.typed.roles}
            onChange={(roles) => of.form.setValue("roles", roles)}
          />
        </Group>
        <TextField
          of={of}
          name="login"
          label="Name to sign in with"
          autoComplete="username"
          autoCapitalize="none"
        />
        <TextField
          of={of}
          name="password"
          label="Password, 10 characters or more"
          type="password"
          autoComplete="new-password"
        />
      </Form>
    </main>
  );
}
