import { type AnchorItem, type Anchors, api, ask } from "../../api/client";
import { mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { typedNumber } from "../../kit/fields";
import { ChoiceField, Form, TextField, useSending } from "../../kit/form";
import { useDoing } from "../../kit/useDoing";

export type Meaning = Anchors["kinds"][number];
export type Athlete = Anchors["athletes"][number];

export function anchorText(anchor: AnchorItem | undefined): string {
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

interface TypedAnchor {
  text: string;
  from: string;
  source: string;
}

/** A value somebody's work is judged by, from a day on. */
export function AnchorForm({ place, athlete, kind, standing, onDone }: AnchorFormProps) {
  const { slug, today } = place.squad;
  const toast = useToast();
  const worded = kind.words.length > 0;
  const may = place.may("edit_anchors");
  const withdraw = useDoing([slug], (anchor_id: string) =>
    ask(api.DELETE("/api/squads/{slug}/anchors/{anchor_id}", { params: { path: { slug, anchor_id } } })),
  );
  const of = useSending<TypedAnchor, AnchorItem>({
    start: { text: anchorText(standing), from: place.day <= today ? place.day : today, source: "" },
    check: ({ text }) => ({
      text: worded ? !text && "Choose one." : Number.isNaN(typedNumber(text)) && "A number, such as 190.",
    }),
    send: ({ text, from, source }) =>
      ask(
        api.POST("/api/squads/{slug}/anchors", {
          params: { path: { slug } },
          body: {
            athlete_id: athlete.athlete_id,
            kind: kind.kind,
            value: worded ? null : typedNumber(text),
            word: worded ? text : null,
            from_day: from,
            source,
          },
        }),
      ),
    saved: (anchor) => {
      toast(`${kind.name} of ${athlete.name}: ${anchorText(anchor)} ${kind.unit}.`, () =>
        withdraw.mutate(anchor.id),
      );
      onDone();
    },
    renews: [slug],
  });
  const value = {
    of,
    name: "text" as const,
    label: kind.unit ? `${kind.name}, ${kind.unit}` : kind.name,
    also: ["value", "word"],
  };
  return (
    <Form
      of={of}
      head={athlete.name}
      action="Save"
      onLeave={onDone}
      readOnly={!may}
      foot={<Standing kind={kind} standing={standing} />}
    >
      {worded ? (
        <ChoiceField
          {...value}
          none="choose"
          options={kind.words.map((word) => [word, word])}
          disabled={!may}
        />
      ) : (
        <TextField {...value} inputMode="decimal" autoFocus readOnly={!may} />
      )}
      <div className="form-pair">
        <TextField of={of} name="from" also={["from_day"]} label="From" type="date" max={today} />
        <TextField
          of={of}
          name="source"
          label="How it was found"
          maxLength={200}
          placeholder="running test"
        />
      </div>
    </Form>
  );
}

function Standing({ kind, standing }: { kind: Meaning; standing: AnchorItem | undefined }) {
  return (
    <>
      {kind.words.length === 0 && (
        <p className="form-foot">
          From {say.short(kind.low)} to {say.load(kind.high)} {kind.unit}.
        </p>
      )}
      {standing && (
        <p className="form-foot">
          {anchorText(standing)} {kind.unit} holds since {mediumDay(standing.from_day)}{" "}
          {standing.from_day.slice(0, 4)}
          {standing.source && `, ${standing.source.toLowerCase()}`}
          {standing.set_by && `, set by ${standing.set_by}`}.
        </p>
      )}
    </>
  );
}
