import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { ulid } from "ulid";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Due, type Me, type Own, type Problem } from "../../api/client";
import { ownQuery, ownTodayQuery } from "../../api/queries/phone";
import { clockTime, longDay, mediumDay } from "../../frame/days";
import { LinksUsed } from "../../frame/LinksUsed";
import { Mark } from "../../frame/Mark";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useSignOut } from "../../frame/signOut";
import { clubNow } from "../../offline/clock";
import type { Waiting } from "../../offline/entries";
import { dismiss, enqueue, useOutbox, useSending } from "../../offline/outbox";
import { dropCopy } from "../../offline/store";
import { Consent } from "./Consent";
import type { Filled } from "./filled";
import { OwnToday } from "./OwnToday";
import { Questions } from "./Questions";
import { asksFirst } from "./told";
import "./phone.css";

const slot = (due: Due) => `${due.kind} ${due.day} ${due.session?.id ?? ""}`;

const title = (due: Due, own: Own) => {
  if (due.session) return due.session.title;
  if (due.kind === "weekly") return "The last week";
  return due.day === own.today ? "This morning" : `The morning of ${mediumDay(due.day)}`;
};

/** An athlete's own page: what is asked today, in big letters, and what waits to be sent. */
export default function PhoneScreen({ me, place }: { me: Me; place: Place }) {
  const own = useQuery(ownQuery(place.squad.slug));
  useSending(me.user_id ?? 0, useOnSent(place.squad.slug));
  if (own.isPending) return null;
  if (own.isError)
    return (
      <Message title="Your page could not be loaded" action="Try again" onAction={() => own.refetch()}>
        {own.error.message}
      </Message>
    );
  return <Page own={own.data} slug={place.squad.slug} />;
}

/** What is done once something has gone out. */
function useOnSent(slug: string) {
  const queries = useQueryClient();
  return useCallback(
    (item: Waiting) => {
      if (item.what !== "report") return;
      dropCopy(`draft ${item.key}`).catch(() => {});
      // What stood there before is not shown while the day is read anew.
      queries.resetQueries({ queryKey: ownTodayQuery(slug).queryKey });
      askAgain(queries, [slug, "own"]);
    },
    [queries, slug],
  );
}

function Page({ own, slug }: { own: Own; slug: string }) {
  const today = useQuery(ownTodayQuery(slug));
  const outbox = useOutbox();
  const signOut = useSignOut(outbox.length);
  const [open, setOpen] = useState<string | null>(null);
  const chosen = own.dues.find((due) => slot(due) === open);
  if (chosen)
    return (
      <Questions
        draftKey={`draft report ${slug} ${slot(chosen)}`}
        own={own}
        due={chosen}
        onSend={(filled) => {
          setOpen(null);
          void enqueue(reportOf(own, slug, chosen, filled));
        }}
        onLeave={() => setOpen(null)}
      />
    );
  // Whom to ask, or that nothing is to be done today, comes before everything that is asked.
  // What was told and has not gone out yet is not known to the page that was kept.
  const untold = outbox.some((item) => !item.refused && asksFirst(item));
  const closes =
    !untold && today.data !== undefined && ["wait", "ask", "out", "rest"].includes(today.data.stands);
  return (
    <main className="phone">
      <header className="phone-head">
        <Mark width={30} />
        <div>
          <b>{own.name}</b>
          <span className="quiet">
            {own.squad} · {longDay(own.today).replace(/ \d+$/, "")}
          </span>
        </div>
      </header>
      {own.consent_text && !own.consent_given && <Consent own={own} />}
      {own.dues
        .filter((due) => due.rivals.length > 0)
        .map((due) => (
          <Rivals key={slot(due)} own={own} due={due} slug={slug} />
        ))}
      {untold && <Untold />}
      {closes && <OwnToday slug={slug} zone={own.time_zone} />}
      <Dues own={own} slug={slug} outbox={outbox} onOpen={setOpen} />
      <Waits outbox={outbox} />
      {!closes && !untold && <OwnToday slug={slug} zone={own.time_zone} />}
      {own.consent_given && <Consent own={own} />}
      <LinksUsed links={own.links_used} />
      <footer className="phone-foot">
        <a className="text-button" href="/account">
          Your account
        </a>
        <button type="button" className="text-button" onClick={signOut}>
          Sign out
        </button>
      </footer>
    </main>
  );
}

const keyOf = (slug: string, due: Due) => `report ${slug} ${slot(due)}`;

/** A report as it is kept to be sent. */
const reportOf = (own: Own, slug: string, due: Due, filled: Filled) => ({
  key: keyOf(slug, due),
  label: `${title(due, own)}${due.session ? `, ${mediumDay(due.day)}` : ""}`,
  what: "report" as const,
  slug,
  id: ulid(),
  body: {
    kind: due.kind,
    day: due.day,
    session_id: due.session?.id ?? null,
    answers: filled.answers,
    words: filled.words || null,
    pains: filled.pains,
    ill: filled.ill,
    clinical_words: filled.clinicalWords || null,
    made_at: clubNow().toISOString(),
    replaces: due.given?.id ?? null,
  },
});

function Untold() {
  return (
    <section className="own-today" aria-label="Today">
      <h2>Today</h2>
      <p className="own-called">
        Ask a clinician before you train: what you told goes out as soon as there is a network.
      </p>
    </section>
  );
}

interface DuesProps {
  own: Own;
  slug: string;
  outbox: Waiting[];
  onOpen: (slot: string) => void;
}

/** What is asked, and what was said or waits to be sent. */
function Dues({ own, slug, outbox, onOpen }: DuesProps) {
  // What was refused is asked again, with what was filled in.
  const waits = new Set(outbox.filter((item) => !item.refused).map((item) => item.key));
  const isWaiting = (due: Due) => waits.has(keyOf(slug, due));
  const asked = own.dues.filter((due) => !due.given && !isWaiting(due));
  const said = own.dues.filter((due) => due.given || isWaiting(due));
  return (
    <>
      <h1>{asked.length === 0 ? "Nothing is asked of you now." : "Asked of you"}</h1>
      <ul className="dues">
        {asked.map((due) => (
          <li key={slot(due)}>
            <button type="button" className="due" onClick={() => onOpen(slot(due))}>
              <b>{title(due, own)}</b>
              <span>{hint(due, own)}</span>
            </button>
          </li>
        ))}
      </ul>
      {said.length > 0 && <h2>Sent</h2>}
      <ul className="dues">
        {said.map((due) => (
          <li key={slot(due)} className="said">
            <span>
              <b>{title(due, own)}</b>{" "}
              {isWaiting(due) ? (
                <em>waits to be sent</em>
              ) : (
                due.given && <span className="quiet">sent {clockTime(due.given.made_at, own.time_zone)}</span>
              )}
            </span>
            {!isWaiting(due) && (
              <button type="button" className="change" onClick={() => onOpen(slot(due))}>
                Change
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}

function hint(due: Due, own: Own): string {
  if (due.session)
    return `${mediumDay(due.day)}, ${clockTime(due.session.starts_at, own.time_zone)} · how was it?`;
  if (due.kind === "weekly") return "one minute";
  return due.day === own.today ? "under 20 seconds" : "was not sent yet";
}

/** What could not be sent yet, or was refused, said plainly. */
function Waits({ outbox }: { outbox: Waiting[] }) {
  if (outbox.length === 0) return null;
  const refused = outbox.filter((item) => item.refused);
  return (
    <section className="waits" role="status">
      {outbox.length > refused.length && (
        <p>
          <b>{outbox.length - refused.length} to be sent.</b> Kept on this phone; goes out by itself when
          there is a network.
        </p>
      )}
      {refused.map((item) => (
        <p key={item.key} className="over">
          {item.label} was not taken: {item.refused}{" "}
          <button type="button" className="text-button" onClick={() => dismiss(item.key)}>
            Put it away
          </button>
        </p>
      ))}
    </section>
  );
}

/** Two reports for the same thing, made without knowing of each other: the athlete says which one counts. */
function Rivals({ own, due, slug }: { own: Own; due: Due; slug: string }) {
  const queries = useQueryClient();
  const choose = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.POST("/api/squads/{slug}/own/reports/{report_id}/choose", {
          params: { path: { slug, report_id: id } },
        }),
      ),
    onSettled: () => askAgain(queries, [slug, "own"]),
  });
  const both = [due.given, ...due.rivals].filter((one) => one !== null);
  return (
    <section className="rivals" aria-label="Which one counts?">
      <b>{title(due, own)} was sent twice. Which one counts?</b>
      {both.map((one) => (
        <button key={one.id} type="button" className="big" onClick={() => choose.mutate(one.id)}>
          {clockTime(one.made_at, own.time_zone)}:{" "}
          {due.form.asked
            .filter((asked) => one.answers[asked.code] !== undefined)
            .slice(0, 8)
            .map((asked) => `${asked.code.replaceAll("_", " ")} ${one.answers[asked.code]}`)
            .join(", ")}
        </button>
      ))}
    </section>
  );
}
