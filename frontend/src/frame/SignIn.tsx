import { Button, Field, Input } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../api/askAgain";
import { api, ask, type Problem } from "../api/client";
import { Mark } from "./Mark";

export function SignIn({ demo }: { demo: boolean }) {
  const queries = useQueryClient();
  const [login, setLogin] = useState("");
  const [password, setPassword] = useState("");
  const [code, setCode] = useState("");
  const signIn = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.POST("/api/sign-in", { body: { login, password, code } })),
    onSuccess: () => askAgain(queries),
  });
  const wrongCode = signIn.error?.of("code");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    signIn.mutate();
  };
  return (
    <main className="gate">
      <Mark width={42} />
      <h1>How much room does each person have today?</h1>
      <p className="quiet">Sign in to Uvren.</p>
      <form onSubmit={submit} noValidate>
        <Field.Root required>
          <Field.Label>Name</Field.Label>
          <Input
            value={login}
            onChange={(event) => setLogin(event.target.value)}
            autoComplete="username"
            autoCapitalize="none"
            autoFocus
          />
        </Field.Root>
        <Field.Root required invalid={signIn.isError && !wrongCode}>
          <Field.Label>Password</Field.Label>
          <Input
            type="password"
            value={password}
            onChange={(event) => setPassword(event.target.value)}
            autoComplete="current-password"
          />
          <Field.ErrorText>{signIn.error?.message}</Field.ErrorText>
        </Field.Root>
        {(wrongCode || code) && (
          <Field.Root required invalid={Boolean(wrongCode)}>
            <Field.Label>Code</Field.Label>
            <Input
              value={code}
              onChange={(event) => setCode(event.target.value)}
              inputMode="numeric"
              autoComplete="one-time-code"
              autoFocus
            />
            <Field.ErrorText>{wrongCode}</Field.ErrorText>
          </Field.Root>
        )}
        <Button type="submit" loading={signIn.isPending} disabled={!login || !password}>
          Sign in
        </Button>
      </form>
      {demo && (
        <p className="quiet" style={{ marginTop: 26 }}>
          This is the demo club. The sign-ins were printed where it was started.
        </p>
      )}
    </main>
  );
}
