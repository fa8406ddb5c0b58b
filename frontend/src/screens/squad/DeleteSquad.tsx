import { useState } from "react";
import { api, ask } from "../../api/client";
import type { Place } from "../../frame/place";
import { Form, TextField, useSending } from "../../kit/form";

/** The squad with everything that is kept of it, deleted for good: after its name was typed. */
export function DeleteSquad({ place }: { place: Place }) {
  const [asking, setAsking] = useState(false);
  if (!place.may("run_club")) return null;
  return (
    <section aria-label="Delete this squad" style={{ marginTop: 22 }}>
      {asking ? (
        <Sure place={place} onLeave={() => setAsking(false)} />
      ) : (
        <button type="button" className="text-button" onClick={() => setAsking(true)}>
          Delete this squad
        </button>
      )}
    </section>
  );
}

function Sure({ place, onLeave }: { place: Place; onLeave: () => void }) {
  const { slug, name: named } = place.squad;
  const of = useSending<{ name: string }, unknown>({
    start: { name: "" },
    check: ({ name }) => ({ name: name.trim() !== named && `Type ${named}.` }),
    send: ({ name }) => ask(api.DELETE("/api/squads/{slug}", { params: { path: { slug } }, body: { name } })),
    // Everything on screen is of the squad that is gone.
    saved: () => window.location.assign("/"),
    renews: [],
  });
  return (
    <Form of={of} head={`Delete ${named}`} action="Delete it for good" onLeave={onLeave} leave="Keep it">
      <p>
        Its sessions, entries, recordings, reports, tests, limits and calls go, with what stood before; so do
        the names of everybody who is in no other squad. There is no way back. It can be taken out first,
        under Files.
      </p>
      <TextField of={of} name="name" label={`Type ${named}`} maxLength={120} />
    </Form>
  );
}
