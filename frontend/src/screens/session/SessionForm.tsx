import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Planned, type PlannedSession, type Problem } from "../../api/client";
import { dayAndMonth, mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { typedNumber } from "../../kit/fields";
import { ChoiceField, Form, type Sending, TextField, useSending } from "../../kit/form";

interface Props {
  place: Place;
  planned: Planned;
  /** The one that is changed; a new one without it. */
  session: PlannedSession | undefined;
  onLeave: () => void;
}

interface Typed {
  kind: Planned["kinds"][number];
  title: string;
  day: string;
  at: string;
  minutes: string;
  effort: string;
  place: string;
  opponent: string;
  venue: string;
  until: string;
}

const NAMES: Record<Planned["kinds"][number], string> = {
  court: "court",
  field: "field",
  gym: "gym",
  run: "run",
  ride: "ride",
  swim: "swim",
  ski: "ski",
  rounds: "contact rounds",
  skills: "skills",
  throwing: "throwing",
  swings: "swings",
  recovery: "recovery",
  match: "match or competition",
};

function startOf({ place, planned, session }: Props): Typed {
  if (session)
    return {
      ...session,
      minutes: String(session.minutes),
      effort: String(session.effort),
      place: session.place ?? "",
      opponent: session.opponent ?? "",
      venue: session.venue ?? "home",
      until: "",
    };
  const kind = planned.kinds[0] ?? "court";
  return {
    kind,
    title: "",
    day: place.day,
    at: "18:00",
    minutes: "",
    effort: "",
    place: "",
    opponent: "",
    venue: "home",
    until: "",
  };
}

/** What is typed, as it is sent. */
export function bodyOf(typed: Typed) {
  const match = typed.kind === "match" && typed.opponent.trim() !== "";
  return {
    kind: typed.kind,
    title: typed.title,
    day: typed.day,
    at: typed.at,
    minutes: typedNumber(typed.minutes),
    effort: typedNumber(typed.effort),
    place: typed.place || null,
    opponent: match ? typed.opponent : null,
    venue: match ? (typed.venue as "home" | "away") : null,
  };
}

export function wrongIn(typed: Typed): Partial<Record<string, string | false>> {
  const effort = typedNumber(typed.effort);
  const minutes = typedNumber(typed.minutes);
  return {
    title: typed.kind !== "match" && !typed.title.trim() && "A session has a title.",
    day: !typed.day && "Say on which day.",
    at: !/^\d\d:\d\d$/.test(typed.at) && "A time such as 18:30.",
    minutes: !(minutes >= 1 && minutes <= 600) && "1 to 600 minutes.",
    effort: !(effort >= 0 && effort <= 10) && "0 to 10.",
    until: typed.until !== "" && typed.until < typed.day && "The last week is before the first.",
  };
}

/** A session that is made or changed: when, what, how long and how hard. */
export function SessionForm(props: Props) {
  const { place, session, onLeave } = props;
  const slug = place.squad.slug;
  const toast = useToast();
  const of = useSending<Typed, string>({
    start: startOf(props),
    check: wrongIn,
    seen: session?.version,
    send: async (typed, seen) => {
      const body = bodyOf(typed);
      if (session) {
        const params = { path: { slug, session_id: session.id } };
        await ask(
          api.PUT("/api/squads/{slug}/sessions/{session_id}/plan", {
            params,
            body: { ...body, version: seen as number },
          }),
        );
        return "The session is changed.";
      }
      const made = await ask(
        api.POST("/api/squads/{slug}/sessions", {
          params: { path: { slug } },
          body: { ...body, until: typed.until || null },
        }),
      );
      const { sessions } = made;
      if (sessions.length === 1) return "The session is made.";
      return `${sessions.length} sessions are made, until ${mediumDay(sessions.at(-1)?.day ?? typed.day)}.`;
    },
    saved: (said) => {
      toast(said);
      onLeave();
    },
    renews: [slug],
  });
  return (
    <Form
      of={of}
      head={session ? "Change this session" : "A new session"}
      action={session ? "Save" : "Make it"}
      onLeave={onLeave}
      foot={session && <Delete place={place} session={session} onDone={onLeave} />}
    >
      <Fields of={of} planned={props.planned} changes={Boolean(session)} />
    </Form>
  );
}

function Fields({ of, planned, changes }: { of: Sending<Typed>; planned: Planned; changes: boolean }) {
  const { typed } = of;
  return (
    <>
      <ChoiceField
        of={of}
        name="kind"
        label="Kind"
        options={planned.kinds.map((kind) => [kind, NAMES[kind]])}
      />
      <TextField
        of={of}
        name="title"
        label="Title"
        maxLength={120}
        placeholder={typed.kind === "match" ? "Match" : ""}
      />
      {typed.kind === "match" && (
        <div className="form-pair">
          <TextField of={of} name="opponent" label="Against" maxLength={100} />
          <ChoiceField
            of={of}
            name="venue"
            label="Where"
            options={[
              ["home", "home"],
              ["away", "away"],
            ]}
          />
        </div>
      )}
      <div className="form-pair">
        <TextField of={of} name="day" label="Day" type="date" />
        <TextField of={of} name="at" label="Start" type="time" />
      </div>
      <div className="form-pair">
        <TextField of={of} name="minutes" label="Minutes planned" inputMode="decimal" />
        <TextField of={of} name="effort" label="Effort planned, 0 to 10" inputMode="decimal" />
      </div>
      {planned.places.length > 0 && (
        <ChoiceField
          of={of}
          name="place"
          label="Place"
          none="as usual"
          options={planned.places.map((name) => [name, name])}
        />
      )}
      {!changes && <TextField of={of} name="until" label="Every week until (empty: once)" type="date" />}
    </>
  );
}

function Delete({ place, session, onDone }: { place: Place; session: PlannedSession; onDone: () => void }) {
  const params = { path: { slug: place.squad.slug, session_id: session.id } };
  const queries = useQueryClient();
  const toast = useToast();
  const restore = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.POST("/api/squads/{slug}/sessions/{session_id}/restore", { params })),
    onSuccess: () => askAgain(queries, [place.squad.slug]),
    onError: (problem) => toast(problem.message),
  });
  const remove = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.DELETE("/api/squads/{slug}/sessions/{session_id}", {
          params: { ...params, query: { version: session.version } },
        }),
      ),
    onSuccess: () => {
      onDone();
      askAgain(queries, [place.squad.slug]);
      toast(`${session.opponent ?? session.title} on ${dayAndMonth(session.day)} is deleted.`, () =>
        restore.mutate(),
      );
    },
  });
  return (
    <>
      <button type="button" className="text-button" onClick={() => remove.mutate()}>
        Delete this session
      </button>
      {remove.isError && (
        <p role="alert" className="field-error">
          {remove.error.message}
        </p>
      )}
    </>
  );
}
