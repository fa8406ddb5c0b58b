import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link } from "react-router";
import { askAgain } from "../api/askAgain";
import { type Account, api, ask, type Problem } from "../api/client";
import { accountQuery } from "../api/queries/frame";
import { Form, TextField, useSending } from "../kit/form";
import { mediumDay } from "./days";
import { LinksUsed } from "./LinksUsed";
import { Message } from "./Message";
import { SecondFactor } from "./SecondFactor";
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
      <LinksUsed links={account.data.links_used} />
      <Password />
      <SecondFactor account={account.data} />
      <p>
        <Link className="text-button" to="/">
          Back
        </Link>
      </p>
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
  const of = useSending({
    start: { old: "", new: "" },
    send: (body) => ask(api.PUT("/api/account/password", { body })),
    saved: () => {
      of.form.reset();
      toast("Your password is changed; everywhere else you are signed out.");
    },
    renews: accountQuery.queryKey,
  });
  return (
    <section aria-label="Password">
      <h2>Password</h2>
      <Form of={of} action="Change it">
        <TextField
          of={of}
          name="old"
          also={["password"]}
          label="Present password"
          type="password"
          autoComplete="current-password"
        />
        <TextField
          of={of}
          name="new"
          label="New password, 10 characters or more"
          type="password"
          autoComplete="new-password"
        />
      </Form>
    </section>
  );
}
