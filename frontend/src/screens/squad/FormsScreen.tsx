import { Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type Asked, api, ask, type Forms } from "../../api/client";
import { formsQuery } from "../../api/queries/reports";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Form, TextField, useSending } from "../../kit/form";
import { Beside } from "../../kit/Panel";
import { SquadTabs } from "./SquadTabs";
import "./squad.css";
import "./accounts.css";

type Kind = Forms["forms"][number]["kind"];

const NAMES: Record<Kind, string> = {
  daily: "Each morning",
  weekly: "Each week",
  session: "After a session",
};
const DAYS = ["Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun"];

/** What athletes are asked: which items, in which order, on which days, in which words. */
export default function FormsScreen({ place }: { place: Place }) {
  const forms = useQuery(formsQuery(place.squad.slug, place.squad.today));
  const kind = (place.get("form") as Kind | null) ?? "daily";
  if (forms.isError)
    return (
      <Message title="The forms could not be loaded" action="Try again" onAction={() => forms.refetch()}>
        {forms.error.message}
      </Message>
    );
  const form = forms.data?.forms.find((one) => one.kind === kind);
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>What athletes are asked</h1>
        <nav className="summary-end tabs" aria-label="Forms">
          {(Object.keys(NAMES) as Kind[]).map((one) => (
            <button
              key={one}
              type="button"
              aria-current={one === kind ? "page" : undefined}
              onClick={() => place.set({ form: one }, true)}
            >
              {NAMES[one]}
            </button>
          ))}
        </nav>
      </div>
      {forms.data && form && (
        <FormEditor
          key={`${kind} ${form.id}`}
          place={place}
          kind={kind}
          form={form}
          items={forms.data.items[kind] ?? []}
        />
      )}
    </>
  );
}

interface EditorProps {
  place: Place;
  kind: Kind;
  form: Forms["forms"][number];
  items: Asked[];
}

interface Said {
  question: string;
  low: string;
  high: string;
}

type Words = Record<string, Said>;

interface TypedForm {
  codes: string[];
  days: number[];
  words: Words;
  from: string;
}

function FormEditor({ place, kind, form, items }: EditorProps) {
  const toast = useToast();
  const { slug, today } = place.squad;
  const usual = new Map(items.map((item) => [item.code, item]));
  const of = useSending<TypedForm, Forms["forms"][number]>({
    start: {
      codes: form.asked.map((one) => one.code),
      days: form.days,
      words: Object.fromEntries(
        form.asked.map(({ code, question, low, high }) => [code, { question, low, high }]),
      ),
      from: today,
    },
    seen: form.id,
    stands: (saved) => saved.id,
    send: ({ codes, days, words, from }, seen) =>
      ask(
        api.POST("/api/squads/{slug}/forms", {
          params: { path: { slug } },
          body: {
            kind,
            items: codes,
            days,
            words: differing(words, usual),
            from_day: from,
            replaces: seen as string | null,
          },
        }),
      ),
    saved: (_done, { from }) => toast(`Asked from ${mediumDay(from)} on.`),
    renews: [slug, "forms"],
  });
  const { codes, days } = of.typed;
  const setCodes = (next: string[]) => of.form.setValue("codes", next);
  const left = items.filter((item) => !codes.includes(item.code));
  return (
    <Beside
      label="Days and saving"
      panel={
        <Form of={of} head={NAMES[kind]} action="Ask this from then on">
          {kind !== "session" && (
            <DaysAsked
              days={days}
              error={of.wrong("days")}
              onDays={(next) => of.form.setValue("days", next)}
            />
          )}
          <p className="quiet">
            {kind === "daily" &&
              `${codes.length + 3} taps on a normal day. Under 20 seconds is about 10 taps. `}
            10 is the good end on every scale.
          </p>
          <TextField of={of} name="from" also={["from_day"]} label="From" type="date" />
        </Form>
      }
    >
      <table className="plain-table forms-table">
        <thead>
          <tr>
            <th scope="col">Asked, in this order</th>
            <th scope="col">Word at 0</th>
            <th scope="col">Word at 10</th>
            <th scope="col" />
          </tr>
        </thead>
        <tbody>
          {codes.map((code, i) => (
            <AskedRow
              key={code}
              code={code}
              item={usual.get(code)}
              said={of.typed.words[code] ?? usual.get(code) ?? { question: code, low: "", high: "" }}
              first={i === 0}
              onWords={(said) => of.form.setValue("words", { ...of.typed.words, [code]: said })}
              onEarlier={() => setCodes(earlier(codes, i))}
              onLeaveOut={() => setCodes(codes.filter((one) => one !== code))}
            />
          ))}
        </tbody>
      </table>
      {left.length > 0 && (
        <div className="part-head">
          <h2>Not asked</h2>
        </div>
      )}
      <ul className="open-links">
        {left.map((item) => (
          <li key={item.code}>
            {item.question}{" "}
            <button
              type="button"
              className="text-button"
              aria-label={`Ask: ${item.question}`}
              onClick={() => setCodes([...codes, item.code])}
            >
              ask it
            </button>
          </li>
        ))}
      </ul>
    </Beside>
  );
}

/** The one at a place moved one place forward. */
const earlier = (codes: string[], at: number) => [
  ...codes.slice(0, at - 1),
  ...codes.slice(at, at + 1),
  ...codes.slice(at - 1, at),
  ...codes.slice(at + 1),
];

interface AskedRowProps {
  code: string;
  item: Asked | undefined;
  said: Said;
  first: boolean;
  onWords: (said: Said) => void;
  onEarlier: () => void;
  onLeaveOut: () => void;
}

function AskedRow({ code, item, said, first, onWords, onEarlier, onLeaveOut }: AskedRowProps) {
  const name = code.replaceAll("_", " ");
  const words = (what: keyof Said, label: string) => (
    <Input
      size="sm"
      aria-label={`${label} of ${name}`}
      value={said[what]}
      onChange={(event) => {
        const { question, low, high } = said;
        onWords({ question, low, high, [what]: event.target.value });
      }}
    />
  );
  return (
    <tr>
      <td>{words("question", "Question")}</td>
      {item && item.choices.length > 0 ? (
        <td colSpan={2} className="quiet">
          {item.choices.join(", ")}
        </td>
      ) : item && item.most !== 10 ? (
        <td colSpan={2} className="quiet">
          {item.least} to {item.most} {item.unit}
        </td>
      ) : (
        <>
          <td>{words("low", "Word at 0")}</td>
          <td>{words("high", "Word at 10")}</td>
        </>
      )}
      <td className="actions">
        <button
          type="button"
          className="text-button"
          disabled={first}
          aria-label={`Ask earlier: ${said.question}`}
          onClick={onEarlier}
        >
          earlier
        </button>{" "}
        <button
          type="button"
          className="text-button"
          aria-label={`Leave out: ${said.question}`}
          onClick={onLeaveOut}
        >
          leave out
        </button>
      </td>
    </tr>
  );
}

interface DaysAskedProps {
  days: number[];
  error: string | undefined;
  onDays: (days: number[]) => void;
}

function DaysAsked({ days, error, onDays }: DaysAskedProps) {
  return (
    <fieldset className="form-days">
      <legend>Asked on</legend>
      {DAYS.map((name, day) => (
        <label key={name}>
          <input
            type="checkbox"
            checked={days.includes(day)}
            onChange={() =>
              onDays(days.includes(day) ? days.filter((one) => one !== day) : [...days, day].sort())
            }
          />{" "}
          {name}
        </label>
      ))}
      {error && <p className="over">{error}</p>}
    </fieldset>
  );
}

/** Only the words that are not ours. */
function differing(words: Words, usual: Map<string, Asked>): Words {
  return Object.fromEntries(
    Object.entries(words).filter(([code, own]) => {
      const item = usual.get(code);
      return item && (own.question !== item.question || own.low !== item.low || own.high !== item.high);
    }),
  );
}
