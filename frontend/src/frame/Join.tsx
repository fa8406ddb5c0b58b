import { Button, Field, Input } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { api, ask, type Problem } from "../api/client";
import { Mark } from "./Mark";
import { Message } from "./Message";

/** Where a one-time link leads: to an account of one's own, or to a new password. */
export function Join() {
  // After the #, so that no server's log on the way holds it.
  const token = window.location.hash.slice(1);
  const [login, setLogin] = useState("");
  const [password, setPassword] = useState("");
  const look = useQuery({
    queryKey: ["invitation", token],
    queryFn: () => ask(api.POST("/api/invitations/look", { body: { token } })),
    retry: false,
    enabled: token.length >= 10,
  });
  const accept = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.POST("/api/invitations/accept", { body: { token, login, password } })),
    onSuccess: () => window.location.assign("/"),
  });
  if (look.isError || token.length < 10)
    return (
      <Message
        title="This link works no more"
        action="Go to the sign-in"
        onAction={() => window.location.assign("/")}
      >
        Links work once, and for two weeks. Ask for a new one.
      </Message>
    );
  if (!look.data) return null;
  const known = look.data.login;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    accept.mutate();
  };
  const wrong = (field: string) => accept.error?.of(field);
  return (
    <main className="gate">
      <Mark width={42} />
      <h1>{known ? `A new password, ${look.data.name}` : `Welcome, ${look.data.name}`}</h1>
      <p className="quiet">
        {look.data.squad}
        {known ? "" : `, as ${look.data.role === "admin" ? "administrator" : look.data.role}`}
      </p>
      <form onSubmit={submit} noValidate>
        {known ? (
          <p>
            You sign in as <b>{known}</b>.
          </p>
        ) : (
          <Field.Root required invalid={Boolean(wrong("login"))}>
            <Field.Label>Name to sign in with</Field.Label>
            <Input
              value={login}
              onChange={(event) => setLogin(event.target.value)}
              autoComplete="username"
              autoCapitalize="none"
            />
            <Field.ErrorText>{wrong("login")}</Field.ErrorText>
          </Field.Root>
        )}
        <Field.Root required invalid={Boolean(wrong("password"))}>
          <Field.Label>Password, 10 characters or more</Field.Label>
          <Input
            type="password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            autoComplete="new-password"
          />
          <Field.ErrorText>{wrong("password")}</Field.ErrorText>
        </Field.Root>
        {accept.isError && accept.error.errors.length === 0 && (
          <p role="alert" className="over">
            {accept.error.message}
          </p>
        )}
        <Button type="submit" loading={accept.isPending} disabled={!password || (!known && !login)}>
          {known ? "Take this password" : "Make my account"}
        </Button>
      </form>
    </main>
  );
}
