import { Button, Input } from "@chakra-ui/react";
import { useState } from "react";
import type { ReturnCriterion, ReturnWhole } from "../../api/client";
import { CriterionMarks } from "../../charts/CriterionMarks";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { Labelled, typedNumber } from "../../kit/fields";
import { useStage } from "./useStage";

/** The stage that holds: what it allows, what has to hold before the next one, and who moves it. */
export function StagePanel({ place, whole }: { place: Place; whole: ReturnWhole }) {
  const of = useStage(place, whole);
  const { stage, row } = whole;
  if (!stage) return <Climbing place={place} whole={whole} of={of} />;
  const met = stage.criteria.filter((one) => one.met).length;
  return (
    <>
      <h2>
        Stage {stage.number} of {stage.of}
      </h2>
      <p className="quiet">
        Since {mediumDay(stage.since)}, day {stage.day}
      </p>
      {stage.content && <p>{stage.content.replace(/^./, (letter) => letter.toUpperCase())}.</p>}
      {stage.advice && <p className="over">{stage.advice}</p>}
      {stage.criteria.length > 0 && (
        <p>
          <b>
            {met} of {stage.criteria.length} criteria hold.
          </b>
        </p>
      )}
      {stage.criteria.map((one) => (
        <Criterion key={`${one.key} ${one.entry}`} criterion={one} of={of} may={place.may("edit_clinical")} />
      ))}
      {row.back && <Back of={of} why={row.back} to={stage.number - 1} may={place.may("edit_clinical")} />}
      <Move place={place} whole={whole} of={of} met={met === stage.criteria.length} />
      {stage.back_if.length > 0 && (
        <p className="quiet">
          One stage back is proposed by {stage.back_if.join("; ")}. A clinician confirms.
        </p>
      )}
      {place.may("edit_clinical") && (
        <p>
          {whole.stages.length > 0 && (
            <>
              <button type="button" className="text-button" onClick={() => place.set({ begin: "stages" })}>
                Change the stages
              </button>{" "}
            </>
          )}
          <button type="button" className="text-button" onClick={() => place.set({ begin: "summary" })}>
            Summary for another clinic
          </button>
        </p>
      )}
    </>
  );
}

type Of = ReturnType<typeof useStage>;

/** A climb without stages: nothing to move, and how it ends. */
function Climbing({ place, whole, of }: { place: Place; whole: ReturnWhole; of: Of }) {
  return (
    <>
      <h2>By the climb alone</h2>
      <p>{whole.row.said}</p>
      <p className="quiet">
        A week under 70 % of its step is held for another one. Limits on the ratio rest until the climb is
        over.
      </p>
      {place.may("plan_returns") && <EndPlan of={of} />}
    </>
  );
}

function Criterion({ criterion, of, may }: { criterion: ReturnCriterion; of: Of; may: boolean }) {
  const [open, setOpen] = useState(false);
  return (
    <div className="criterion">
      <div>
        <b>{criterion.name}</b>
        {criterion.entry && <span className="quiet"> to come into the next stage</span>}
        <div className="quiet">{criterion.asks}</div>
        <div className={criterion.met ? undefined : "plum"}>
          {criterion.met ? "Holds: " : ""}
          {criterion.said}
          {criterion.missing && `; ${criterion.missing}`}
        </div>
        {may && criterion.measured && !open && (
          <button type="button" className="text-button" onClick={() => setOpen(true)}>
            Enter today’s
          </button>
        )}
        {may && criterion.looks === "word" && !criterion.met && (
          <button type="button" className="text-button" onClick={() => of.word.mutate()}>
            Give the word
          </button>
        )}
      </div>
      {criterion.looks !== "days" && (
        <CriterionMarks criterion={criterion} label={`${criterion.name}: ${criterion.said}`} />
      )}
      {open && <Measure criterion={criterion} of={of} onDone={() => setOpen(false)} />}
    </div>
  );
}

/** What was measured today: the hurt side and the other one, or the test and the own best. */
function Measure({ criterion, of, onDone }: { criterion: ReturnCriterion; of: Of; onDone: () => void }) {
  const [value, setValue] = useState("");
  const [other, setOther] = useState("");
  const sides = criterion.looks === "sides";
  const typed = { value: typedNumber(value), other: typedNumber(other) };
  const wrong = of.measure.error;
  return (
    <form
      className="criterion-form"
      onSubmit={(event) => {
        event.preventDefault();
        of.measure.mutate({ criterion: criterion.key, ...typed }, { onSuccess: onDone });
      }}
    >
      <Labelled label={sides ? "Hurt side" : "Today"} error={wrong?.of("value")}>
        <Input
          size="sm"
          inputMode="decimal"
          value={value}
          onChange={(event) => setValue(event.target.value)}
        />
      </Labelled>
      <Labelled label={sides ? "Other side" : "Own best"} error={wrong?.of("other")}>
        <Input
          size="sm"
          inputMode="decimal"
          value={other}
          onChange={(event) => setOther(event.target.value)}
        />
      </Labelled>
      <Button
        type="submit"
        size="sm"
        loading={of.measure.isPending}
        disabled={!(typed.value > 0 && typed.other > 0)}
      >
        Save
      </Button>
      <button type="button" className="text-button" onClick={onDone}>
        Leave it
      </button>
    </form>
  );
}

/** A reaction speaks for one stage back: step back, or say why not. */
function Back({ of, why, to, may }: { of: Of; why: string; to: number; may: boolean }) {
  const [words, setWords] = useState("");
  return (
    <section className="return-back">
      <p>
        <b>One stage back is proposed:</b> {why}.
      </p>
      <Button size="sm" onClick={() => of.move.mutate({ to, words: why })}>
        Back to stage {to}
      </Button>
      {may && (
        <>
          <Labelled label="Or keep it, because">
            <Input size="sm" value={words} onChange={(event) => setWords(event.target.value)} />
          </Labelled>
          <Button size="sm" variant="outline" disabled={!words.trim()} onClick={() => of.keep.mutate(words)}>
            Keep the stage
          </Button>
        </>
      )}
    </section>
  );
}

/** On, with a reason where something is open; back at once. */
function Move({ place, whole, of, met }: { place: Place; whole: ReturnWhole; of: Of; met: boolean }) {
  const [words, setWords] = useState("");
  const { stage } = whole;
  if (!stage) return null;
  const on = place.may("edit_clinical") || (of.signOff && place.may("plan_returns"));
  const last = stage.number === stage.of;
  return (
    <section className="return-move">
      {on && !met && (
        <Labelled label="Why it goes on although not everything holds" error={of.move.error?.of("words")}>
          <Input size="sm" value={words} onChange={(event) => setWords(event.target.value)} />
        </Labelled>
      )}
      <div className="form-actions">
        {on && (
          <Button
            size="sm"
            loading={of.move.isPending}
            disabled={!met && !words.trim()}
            onClick={() => of.move.mutate({ to: stage.number + 1, words })}
          >
            {last ? "Everything is done" : `On to stage ${stage.number + 1}`}
          </Button>
        )}
        {stage.number > 1 && (
          <Button size="sm" variant="outline" onClick={() => of.move.mutate({ to: stage.number - 1, words })}>
            Step back
          </Button>
        )}
      </div>
      {of.move.error && !of.move.error.of("words") && (
        <p className="field-error" role="alert">
          {of.move.error.message}
        </p>
      )}
      {!on && <p className="quiet">A clinician moves the stage on. Anybody steps back at once.</p>}
      {place.may("edit_clinical") && <EndPlan of={of} />}
    </section>
  );
}

function EndPlan({ of }: { of: Of }) {
  return (
    <p>
      <button type="button" className="text-button" onClick={() => of.end.mutate()}>
        End this plan
      </button>
    </p>
  );
}
