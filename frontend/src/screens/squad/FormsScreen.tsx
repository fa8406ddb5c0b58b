import { Button, Input } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { type Asked, api, ask, type Forms, type Problem } from "../../api/client";
import { formsQuery } from "../../api/queries";
import { mediumDay } from "../../frame/days";
import { Labelled } from "../../frame/fields";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
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
          key={`${kind} ${form.from_day} ${form.asked.map((one) => one.code + one.question).join()}`}
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

type Words = Record<string, { question: string; low: string; high: string }>;

function FormEditor({ place, kind, form, items }: EditorProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  const [codes, setCodes] = useState(form.asked.map((one) => one.code));
  const [days, setDays] = useState(form.days);
  const [words, setWords] = useState<Words>(
    Object.fromEntries(form.asked.map(({ code, question, low, high }) => [code, { question, low, high }])),
  );
  const [from, setFrom] = useState(place.squad.today);
  const usual = new Map(items.map((item) => [item.code, item]));
  const save = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/forms", {
          params: { path: { slug } },
          body: { kind, items: codes, days, words: differing(words, usual), from_day: from },
        }),
      ),
    onSuccess: () => {
      askAgain(queries, [slug, "forms"]);
      toast(`Asked from ${mediumDay(from)} on.`);
    },
  });
  const move = (at: number, by: number) => {
    const next = [...codes];
    const [code] = next.splice(at, 1);
    if (code) next.splice(at + by, 0, code);
    setCodes(next);
  };
  const left = items.filter((item) => !codes.includes(item.code));
  const said = (code: string) => words[code] ?? usual.get(code) ?? { question: code, low: "", high: "" };
  return (
    <div className="desk">
      <div className="desk-main">
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
            {codes.map((code, i) => {
              const item = usual.get(code);
              const change = (what: Partial<Words[string]>) =>
                setWords({ ...words, [code]: { ...said(code), ...what } });
              return (
                <tr key={code}>
                  <td>
                    <Input
                      size="sm"
                      aria-label={`Question of ${code.replaceAll("_", " ")}`}
                      value={said(code).question}
                      onChange={(event) => change({ question: event.target.value })}
                    />
                  </td>
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
                      <td>
                        <Input
                          size="sm"
                          aria-label={`Word at 0 of ${code.replaceAll("_", " ")}`}
                          value={said(code).low}
                          onChange={(event) => change({ low: event.target.value })}
                        />
                      </td>
                      <td>
                        <Input
                          size="sm"
                          aria-label={`Word at 10 of ${code.replaceAll("_", " ")}`}
                          value={said(code).high}
                          onChange={(event) => change({ high: event.target.value })}
                        />
                      </td>
                    </>
                  )}
                  <td className="actions">
                    <button
                      type="button"
                      className="text-button"
                      disabled={i === 0}
                      aria-label={`Ask earlier: ${said(code).question}`}
                      onClick={() => move(i, -1)}
                    >
                      earlier
                    </button>{" "}
                    <button
                      type="button"
                      className="text-button"
                      aria-label={`Leave out: ${said(code).question}`}
                      onClick={() => setCodes(codes.filter((one) => one !== code))}
                    >
                      leave out
                    </button>
                  </td>
                </tr>
              );
            })}
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
      </div>
      <aside className="desk-side" aria-label="Days and saving">
        <form
          className="form-rows"
          onSubmit={(event) => {
            event.preventDefault();
            save.mutate();
          }}
        >
          {kind !== "session" && (
            <fieldset className="form-days">
              <legend>Asked on</legend>
              {DAYS.map((name, day) => (
                <label key={name}>
                  <input
                    type="checkbox"
                    checked={days.includes(day)}
                    onChange={() =>
                      setDays(days.includes(day) ? days.filter((one) => one !== day) : [...days, day].sort())
                    }
                  />{" "}
                  {name}
                </label>
              ))}
              {save.error?.of("days") && <p className="over">{save.error.of("days")}</p>}
            </fieldset>
          )}
          <p className="quiet">
            {kind === "daily" &&
              `${codes.length + 3} taps on a normal day. Under 20 seconds is about 10 taps. `}
            10 is the good end on every scale.
          </p>
          <Labelled label="From" error={save.error?.of("from_day")}>
            <Input size="sm" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
          </Labelled>
          {save.isError && !save.error.of("from_day") && (
            <p role="alert" className="over">
              {save.error.message}
            </p>
          )}
          <div>
            <Button type="submit" size="sm" loading={save.isPending}>
              Ask this from then on
            </Button>
          </div>
        </form>
      </aside>
    </div>
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
