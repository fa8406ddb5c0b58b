import { Button, Input } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { askAgain } from "../api/askAgain";
import { type Account, api, ask, type Problem } from "../api/client";
import { accountQuery } from "../api/queries";
import { Labelled } from "../kit/fields";
import { mediumDay } from "./days";
import { Message } from "./Message";
import { useToast } from "./toast";

/** One's own account: password, second factor, and where one is signed in. */
export default function AccountScreen() {
  const account = useQuery(accountQuery);
  if (account.isError)
    return (
      <Message title="Your account could not be loaded" action="Try again" onAction={() => account.refetch()}>
        {account.error.message}
      </Message>
    );
  if (!account.data) return null;
  return (
    <main className="account">
      <h1>
        {account.data.name} <span className="quiet">signs in as {account.data.login}</span>
      </h1>
      <SignIns account={account.data} />
      <Password />
      <SecondFactor account={account.data} />
      <Link className="text-button" to="/">
        Back
      </Link>
    </main>
  );
}

function useRenewed() {
  const queries = useQueryClient();
  return () => askAgain(queries, accountQuery.queryKey);
}

function SignIns({ account }: { account: Account }) {
  const renew = useRenewed();
  const toast = useToast();
  const end = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(api.DELETE("/api/account/sign-ins/{sign_in_id}", { params: { path: { sign_in_id: id } } })),
    onSettled: renew,
    onError: (problem) => toast(problem.message),
  });
  return (
    <section aria-label="Where you are signed in">
      <h2>Where you are signed in</h2>
      <ul>
        {account.sign_ins.map((one) => (
          <li key={one.id}>
            {one.device} <span className="quiet">since {mediumDay(one.created_at.slice(0, 10))}</span>{" "}
            {one.this ? (
              <b>here</b>
            ) : (
              <button type="button" className="text-button" onClick={() => end.mutate(one.id)}>
                End it
              </button>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Password() {
  const toast = useToast();
  const renew = useRenewed();
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.PUT("/api/account/password", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
      renew();
      toast("Your password is changed; everywhere else you are signed out.");
    },
  });
  return (
    <section aria-label="Password">
      <h2>Password</h2>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          change.mutate();
        }}
      >
        <Labelled label="Present password" error={change.error?.of("old")}>
          <Input
            type="password"
            autoComplete="current-password"
            value={old}
            onChange={(e) => setOld(e.target.value)}
          />
        </Labelled>
        <Labelled label="New password, 10 characters or more" error={change.error?.of("new")}>
          <Input
            type="password"
            autoComplete="new-password"
            value={fresh}
            onChange={(e) => setFresh(e.target.value)}
          />
        </Labelled>
        <Button
          type="submit"
          size="sm"
          variant="outline"
          disabled={!old || !fresh}
          loading={change.isPending}
        >
          Change it
        </Button>
      </form>
    </section>
  );
}

function SecondFactor({ account }: { account: Account }) {
  const renew = useRenewed();
  const toast = useToast();
  const [code, setCode] = useState("");
  const begin = useMutation({ mutationFn: () => ask(api.POST("/api/account/second-factor/new")) });
  const use = useMutation<unknown, Problem, string>({
    mutationFn: (secret) => ask(api.PUT("/api/account/second-factor", { body: { secret, code } })),
    onSuccess: () => {
      begin.reset();
      renew();
      toast("From the next sign-in on you give a code too.");
    },
  });
  const drop = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.DELETE("/api/account/second-factor")),
    onSettled: renew,
  });
  return (
    <section aria-label="Second factor">
      <h2>Second factor</h2>
      {account.second_factor ? (
        <p>
          A one-time code is asked for at each sign-in.{" "}
          <button type="button" className="text-button" onClick={() => drop.mutate()}>
            Ask for the password alone
          </button>
        </p>
      ) : begin.data ? (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            if (begin.data) use.mutate(begin.data.secret);
          }}
        >
          <p>Read this with an authenticator app, then type the code it shows.</p>
          <img
            alt="QR code for the authenticator app"
            width={180}
            src={`data:image/svg+xml,${encodeURIComponent(begin.data.picture)}`}
          />
          <p className="figure">{begin.data.secret}</p>
          <Labelled label="Code" error={use.error?.message}>
            <Input
              inputMode="numeric"
              autoComplete="one-time-code"
              value={code}
              onChange={(e) => setCode(e.target.value)}
            />
          </Labelled>
          <Button type="submit" size="sm" disabled={code.length < 6} loading={use.isPending}>
            Use it from now on
          </Button>
        </form>
      ) : (
        <p>
          Only the password is asked for.{" "}
          <button type="button" className="text-button" onClick={() => begin.mutate()}>
            Ask for a one-time code too
          </button>
        </p>
      )}
    </section>
  );
}
