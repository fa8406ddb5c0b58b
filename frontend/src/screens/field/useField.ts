import { useQuery } from "@tanstack/react-query";
import { useCallback, useEffect, useMemo, useState } from "react";
import { ulid } from "ulid";
import type { Field, FieldEvent, FieldEventBody } from "../../api/client";
import { fieldQuery } from "../../api/queries/field";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { clubNow } from "../../offline/clock";
import { dismiss, enqueue, useOutbox } from "../../offline/outbox";
import { fold, type Kind, type Noted, type Rule } from "./fold";

export interface More {
  athlete?: number;
  part?: number;
  amount?: number;
  what?: string;
  words?: string;
}

export type Note = (kind: Kind, label: string, more?: More) => void;

const keyOf = (id: string) => `field ${id}`;

/** A session as it is run: what the server knows, and what was noted here and has not arrived yet. */
export function useField(place: Place) {
  const slug = place.squad.slug;
  const query = useQuery(fieldQuery(slug, place.day, place.get("session")));
  const outbox = useOutbox();
  const toast = useToast();
  const [mine, setMine] = useState<FieldEventBody[]>([]);
  const [gone, setGone] = useState<string[]>([]);
  const field = query.data;
  const session = field?.session.id;
  const waiting = useMemo(
    () =>
      outbox.flatMap((item) => (item.what === "field" && item.session === session ? item.body.events : [])),
    [outbox, session],
  );
  const events = useMemo(
    () => together(field?.events ?? [], [...waiting, ...mine], gone),
    [field?.events, waiting, mine, gone],
  );
  const stands = useMemo(() => fold(events.map(noted)), [events]);
  const takeBack = useCallback(
    async (id: string) => {
      setGone((all) => [...all, id]);
      if (outbox.some((item) => item.key === keyOf(id))) await dismiss(keyOf(id));
      else if (session)
        await enqueue({
          what: "unfield",
          slug,
          session,
          id,
          body: {},
          key: `un${keyOf(id)}`,
          label: "taken back",
        });
    },
    [outbox, session, slug],
  );
  const note: Note = useCallback(
    (kind, label, more = {}) => {
      if (!session) return;
      const event: FieldEventBody = {
        id: ulid(),
        kind,
        at: clubNow().toISOString(),
        athlete_id: more.athlete ?? null,
        part: more.part ?? null,
        amount: more.amount ?? 0,
        what: more.what ?? "",
        words: more.words ?? "",
      };
      setMine((all) => [...all, event]);
      void enqueue({ what: "field", slug, session, body: { events: [event] }, key: keyOf(event.id), label });
      toast(label, () => void takeBack(event.id));
    },
    [session, slug, toast, takeBack],
  );
  return { query, events, stands, note, takeBack };
}

/** Everything noted, each once; what was taken back here is gone at once. */
export function together(known: FieldEvent[], more: FieldEventBody[], gone: string[]): FieldEventBody[] {
  const found = new Map<string, FieldEventBody>();
  for (const one of [...more, ...known]) if (!gone.includes(one.id)) found.set(one.id, one);
  return [...found.values()].sort((a, b) => (a.at < b.at ? -1 : 1));
}

export const noted = (one: FieldEventBody): Noted => ({
  id: one.id,
  kind: one.kind,
  at: Date.parse(one.at) / 1000,
  athlete: one.athlete_id ?? null,
  part: one.part ?? null,
  amount: one.amount ?? 0,
  words: one.words ?? "",
  what: one.what ?? "",
});

/** What holds for each of something that is counted. */
export function rulesOf(field: Field, what: string): Map<number, Rule> {
  return new Map(
    field.rows.flatMap((row) => {
      const rule = row.spells.find((one) => one.what === what);
      return rule ? [[row.athlete_id, [rule.most, rule.seconds] as Rule]] : [];
    }),
  );
}

/** The club's time in seconds, every second. */
export function useSeconds(): number {
  const [now, setNow] = useState(() => clubNow().getTime() / 1000);
  useEffect(() => {
    const timer = setInterval(() => setNow(clubNow().getTime() / 1000), 1000);
    return () => clearInterval(timer);
  }, []);
  return now;
}

export const clock = (seconds: number): string => {
  const whole = Math.max(Math.round(seconds), 0);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
};
