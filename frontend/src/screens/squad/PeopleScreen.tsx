import { Button, Input, Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { type AnchorItem, type Anchors, api, ask, type NewAnchor, type Problem } from "../../api/client";
import { anchorsQuery } from "../../api/queries";
import { longDay, mediumDay } from "../../frame/days";
import { Labelled, Select, typedNumber } from "../../frame/fields";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { SquadTabs } from "./SquadTabs";
import "./squad.css";

type Meaning = Anchors["kinds"][number];
type Athlete = Anchors["athletes"][number];

/** Short heads for a wide table; the full name stands in the form. */
const HEADS: Record<Meaning["kind"], string> = {
  hr_max: "HR max",
  hr_rest: "HR rest",
  threshold_1: "Thr. 1",
  threshold_2: "Thr. 2",
  sex: "Constants",
  speed_max: "Speed max",
  body_mass: "Mass",
  dominant_side: "Side",
  experience_years: "Training",
  usual_week_load: "Usual week",
};

/** Everyone in the squad with the values their work is judged by. */
export default function PeopleScreen({ place }: { place: Place }) {
  const anchors = useQuery(anchorsQuery(place.squad.slug, place.day));
  const [chosen, setChosen] = useState<{ athlete: Athlete; kind: Meaning } | null>(null);
  if (anchors.isError)
    return (
      <Message title="The people could not be loaded" action="Try again" onAction={() => anchors.refetch()}>
        {anchors.error.message}
      </Message>
    );
  const data = anchors.data;
  const find = (athlete: number, kind: string) =>
    data?.anchors.find((anchor) => anchor.athlete_id === athlete && anchor.kind === kind);
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>{data ? `${data.athletes.length} people` : "People"}</b> and what their work is judged by on{" "}
          {longDay(place.day)}
        </h1>
      </div>
      <div className="desk">
        <div className="desk-main">
          {!data ? (
            <Skeleton height="300px" m="5" />
          ) : (
            <table className="plain-table anchors-table">
              <thead>
                <tr>
                  <th scope="col">Athlete</th>
                  {data.kinds.map((kind) => (
                    <th scope="col" key={kind.kind} className="number" title={kind.name}>
                      {HEADS[kind.kind]}
                      <br />
                      {kind.unit === "effort × min" ? "" : kind.unit}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {data.athletes.map((athlete) => (
                  <tr key={athlete.athlete_id}>
                    <th scope="row" className="row-name">
                      <b>{athlete.name}</b> <span className="quiet">{athlete.position}</span>
                    </th>
                    {data.kinds.map((kind) => {
                      const anchor = find(athlete.athlete_id, kind.kind);
                      return (
                        <td key={kind.kind} className="anchor-cell figure">
                          <button
                            type="button"
                            aria-label={`${kind.name}, ${athlete.name}: ${anchorText(anchor) || "not known"}`}
                            onClick={() => setChosen({ athlete, kind })}
                          >
                            {anchorText(anchor) || "·"}
                          </button>
                        </td>
                      );
                    })}
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <aside className={`desk-side${chosen ? "" : " closed"}`} aria-label="Anchor">
          {chosen ? (
            <AnchorForm
              key={`${chosen.athlete.athlete_id} ${chosen.kind.kind}`}
              place={place}
              athlete={chosen.athlete}
              kind={chosen.kind}
              standing={find(chosen.athlete.athlete_id, chosen.kind.kind)}
              onDone={() => setChosen(null)}
            />
          ) : (
            <p className="quiet">
              Pick a value to set it. A value holds from its day on: work of the days before stays judged by
              the one before it. Load that rests on it is worked out anew from that day.
            </p>
          )}
        </aside>
      </div>
    </>
  );
}

function anchorText(anchor: AnchorItem | undefined): string {
  if (!anchor) return "";
  return anchor.word ?? (anchor.value === null ? "" : String(anchor.value));
}

interface AnchorFormProps {
  place: Place;
  athlete: Athlete;
  kind: Meaning;
  standing: AnchorItem | undefined;
  onDone: () => void;
}

function AnchorForm({ place, athlete, kind, standing, onDone }: AnchorFormProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const [text, setText] = useState(anchorText(standing));
  const [from, setFrom] = useState(place.day <= place.squad.today ? place.day : place.squad.today);
  const [source, setSource] = useState("");
  const [tried, setTried] = useState(false);
  const renew = () => askAgain(queries, [place.squad.slug]);
  const withdraw = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/anchors/{anchor_id}", {
          params: { path: { slug: place.squad.slug, anchor_id: id } },
        }),
      ),
    onSuccess: renew,
    onError: (problem) => toast(problem.message),
  });
  const save = useMutation<AnchorItem, Problem, NewAnchor>({
    mutationFn: (body) =>
      ask(api.POST("/api/squads/{slug}/anchors", { params: { path: { slug: place.squad.slug } }, body })),
    onSuccess: (anchor) => {
      renew();
      toast(`${kind.name} of ${athlete.name}: ${anchorText(anchor)} ${kind.unit}.`, () =>
        withdraw.mutate(anchor.id),
      );
      onDone();
    },
  });
  const typed = typedNumber(text);
  const wrong = kind.words.length === 0 && Number.isNaN(typed) ? "A number, such as 190." : null;
  const may = place.may("edit_anchors");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    setTried(true);
    if (wrong || (kind.words.length > 0 && !text)) return;
    save.mutate({
      athlete_id: athlete.athlete_id,
      kind: kind.kind,
      value: kind.words.length ? null : typed,
      word: kind.words.length ? text : null,
      from_day: from,
      source,
    });
  };
  const error = (tried ? wrong : null) ?? save.error?.of("value") ?? save.error?.of("word");
  return (
    <form onSubmit={submit} noValidate>
      <h2 style={{ margin: 0, fontSize: 19, fontWeight: 700 }}>{athlete.name}</h2>
      <div className="form-rows">
        <Labelled label={kind.unit ? `${kind.name}, ${kind.unit}` : kind.name} error={error}>
          {kind.words.length > 0 ? (
            <Select label={kind.name} value={text} onChange={setText} disabled={!may}>
              <option value="">choose</option>
              {kind.words.map((word) => (
                <option key={word}>{word}</option>
              ))}
            </Select>
          ) : (
            <Input
              size="sm"
              inputMode="decimal"
              autoFocus
              value={text}
              readOnly={!may}
              onChange={(event) => setText(event.target.value)}
            />
          )}
        </Labelled>
        <div className="form-pair">
          <Labelled label="From" error={save.error?.of("from_day")}>
            <Input
              size="sm"
              type="date"
              value={from}
              max={place.squad.today}
              onChange={(event) => setFrom(event.target.value)}
            />
          </Labelled>
          <Labelled label="How it was found">
            <Input
              size="sm"
              maxLength={200}
              placeholder="running test"
              value={source}
              onChange={(event) => setSource(event.target.value)}
            />
          </Labelled>
        </div>
        {save.error && save.error.errors.length === 0 && (
          <p className="field-error" role="alert">
            {save.error.message}
          </p>
        )}
        {may && (
          <div style={{ display: "flex", gap: 14, alignItems: "center" }}>
            <Button type="submit" size="sm" loading={save.isPending}>
              Save
            </Button>
            <button type="button" className="text-button" onClick={onDone}>
              Leave as it is
            </button>
          </div>
        )}
        {kind.words.length === 0 && (
          <p className="quiet" style={{ fontSize: 12.5, margin: 0 }}>
            From {say.short(kind.low)} to {say.load(kind.high)} {kind.unit}.
          </p>
        )}
        {standing && (
          <p className="quiet" style={{ fontSize: 12.5, margin: 0 }}>
            {anchorText(standing)} {kind.unit} holds since {mediumDay(standing.from_day)}{" "}
            {standing.from_day.slice(0, 4)}
            {standing.source && `, ${standing.source.toLowerCase()}`}
            {standing.set_by && `, set by ${standing.set_by}`}.
          </p>
        )}
      </div>
    </form>
  );
}
