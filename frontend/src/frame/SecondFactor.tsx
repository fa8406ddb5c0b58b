import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { type Account, api, ask } from "../api/client";
import { accountQuery } from "../api/queries/frame";
import { Form, TextField, useSending } from "../kit/form";
import { useToast } from "./toast";

/** A one-time code beside the password: asked for from now on, or no more. */
export function SecondFactor({ account }: { account: Account }) {
  const [codes, setCodes] = useState<string[] | null>(null);
  const [dropping, setDropping] = useState(false);
  const begin = useMutation({ mutationFn: () => ask(api.POST("/api/account/second-factor/new")) });
  return (
    <section aria-label="Second factor">
      <h2>Second factor</h2>
      {codes ? (
        <RecoveryCodes codes={codes} onDone={() => setCodes(null)} />
      ) : dropping ? (
        <Drop onDone={() => setDropping(false)} />
      ) : account.second_factor ? (
        <p>
          A one-time code is asked for at each sign-in.{" "}
          <button type="button" className="text-button" onClick={() => setDropping(true)}>
            Ask for the password alone
          </button>
        </p>
      ) : begin.data ? (
        <Use
          secret={begin.data.secret}
          picture={begin.data.picture}
          onUsed={(fresh) => {
            begin.reset();
            setCodes(fresh);
          }}
        />
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

interface UseProps {
  secret: string;
  picture: string;
  onUsed: (recoveryCodes: string[]) => void;
}

function Use({ secret, picture, onUsed }: UseProps) {
  const toast = useToast();
  const of = useSending({
    start: { code: "" },
    send: ({ code }) => ask(api.PUT("/api/account/second-factor", { body: { secret, code } })),
    saved: (answer) => {
      toast("From the next sign-in on you give a code too.");
      onUsed(answer.recovery_codes);
    },
    renews: accountQuery.queryKey,
  });
  return (
    <>
      <p>Read this with an authenticator app, then type the code it shows.</p>
      <img
        alt="QR code for the authenticator app"
        width={180}
        src={`data:image/svg+xml,${encodeURIComponent(picture)}`}
      />
      <p className="figure">{secret}</p>
      <Form of={of} action="Use it from now on">
        <TextField
          of={of}
          name="code"
          also={["secret"]}
          label="Code"
          inputMode="numeric"
          autoComplete="one-time-code"
        />
      </Form>
    </>
  );
}

function RecoveryCodes({ codes, onDone }: { codes: string[]; onDone: () => void }) {
  return (
    <>
      <p>
        For when the app is lost: each of these opens one door in its place. They are shown this once; print
        them, or write them down.
      </p>
      <ul className="recovery-codes figure" aria-label="Recovery codes">
        {codes.map((code) => (
          <li key={code}>{code}</li>
        ))}
      </ul>
      <p>
        <button type="button" className="text-button" onClick={() => window.print()}>
          Print
        </button>{" "}
        <button type="button" className="text-button" onClick={onDone}>
          I have them
        </button>
      </p>
    </>
  );
}

function Drop({ onDone }: { onDone: () => void }) {
  const toast = useToast();
  const of = useSending({
    start: { password: "", code: "" },
    send: (body) => ask(api.POST("/api/account/second-factor/drop", { body })),
    saved: () => {
      toast("The password alone is asked for.");
      onDone();
    },
    renews: accountQuery.queryKey,
  });
  return (
    <Form of={of} action="Ask for the password alone" leave="Leave it" onLeave={onDone}>
      <TextField of={of} name="password" label="Password" type="password" autoComplete="current-password" />
      <TextField
        of={of}
        name="code"
        label="Code that your app shows now, or a recovery code"
        autoComplete="one-time-code"
      />
    </Form>
  );
}
