import { useEffect, useState } from "react";
import type { Asked, Due, Own } from "../../api/client";
import { longDay } from "../../frame/days";
import { copyOf, keepCopy } from "../../offline/store";
import type { Filled } from "./filled";
import { PainStep } from "./PainStep";
import { Scale } from "./Scale";

interface QuestionsProps {
  /** Under which what is filled in is kept until the server has it. */
  draftKey: string;
  own: Own;
  due: Due;
  onSend: (filled: Filled) => void;
  onLeave: () => void;
}

const EMPTY: Filled = { answers: {}, pains: [], ill: false, clinicalWords: "", words: "" };

/** A form, one question after the other; each answer leads to the next. What is filled in is kept until it is sent. */
export function Questions({ draftKey, own, due, onSend, onLeave }: QuestionsProps) {
  const start: Filled = due.given
    ? { ...EMPTY, answers: due.given.answers, words: due.given.words ?? "" }
    : EMPTY;
  const [filled, setFilled] = useState(start);
  const [step, setStep] = useState(0);
  useEffect(() => {
    copyOf<Filled>(draftKey)
      .then((draft) => draft && setFilled(draft))
      .catch(() => {});
  }, [draftKey]);
  const keep = (next: Filled) => {
    setFilled(next);
    keepCopy(draftKey, next).catch(() => {});
  };
  const weekly = due.kind === "weekly";
  const asked = due.form.asked;
  const questions = weekly ? 1 : asked.length;
  const painAt = due.kind === "daily" ? questions : -1;
  const last = questions + (due.kind === "daily" ? 1 : 0);
  const answer = (one: Asked, value: number) => {
    const next = { ...filled, answers: { ...filled.answers, [one.code]: value } };
    keep(next);
    // Who took no part has nothing more to rate.
    setStep(one.code === "minutes" && value === 0 ? last : step + 1);
  };
  const now = asked[step];
  return (
    <main className="phone">
      <header className="ask-head">
        <button type="button" className="back" onClick={() => (step === 0 ? onLeave() : setStep(step - 1))}>
          ‹ {step === 0 ? "Leave" : "Back"}
        </button>
        <span className="quiet">
          {due.session ? due.session.title : due.kind === "daily" ? "Morning" : "Week"} ·{" "}
          {longDay(due.day).replace(/ \d+$/, "")}
        </span>
        <span className="quiet" role="status">
          {Math.min(step + 1, last + 1)} of {last + 1}
        </span>
      </header>
      {weekly && step === 0 ? (
        <Weekly asked={asked} filled={filled} onChange={keep} onNext={() => setStep(1)} />
      ) : step < questions && now ? (
        <section key={now.code} className="ask">
          <h1>{now.question}</h1>
          <Scale
            asked={now}
            value={filled.answers[now.code]}
            planned={now.code === "minutes" ? due.session?.planned_minutes : undefined}
            onAnswer={(value) => answer(now, value)}
          />
          <button type="button" className="skip" onClick={() => setStep(step + 1)}>
            I would rather not say
          </button>
        </section>
      ) : step === painAt ? (
        <PainStep own={own} filled={filled} onChange={keep} onNext={() => setStep(step + 1)} />
      ) : (
        <section className="ask">
          <h1>Anything to add?</h1>
          <textarea
            aria-label="Anything to add?"
            rows={4}
            maxLength={2000}
            value={filled.words}
            placeholder="In your own words, if you like"
            onChange={(event) => keep({ ...filled, words: event.target.value })}
          />
          <button type="button" className="next" onClick={() => onSend(filled)}>
            Send
          </button>
          <p className="quiet">
            {Object.keys(filled.answers).length} of {asked.length} answered
            {filled.pains.length > 0 || filled.ill ? "; what hurts goes to the clinician only." : "."}
          </p>
        </section>
      )}
    </main>
  );
}

interface WeeklyProps {
  asked: Asked[];
  filled: Filled;
  onChange: (filled: Filled) => void;
  onNext: () => void;
}

/** The weekly form: a line a sign, a word a step. */
function Weekly({ asked, filled, onChange, onNext }: WeeklyProps) {
  return (
    <section className="ask weekly">
      <h1>In the last seven days …</h1>
      {asked.map((one) => (
        <fieldset key={one.code}>
          <legend>{one.question}</legend>
          <div className="steps">
            {one.choices.map((choice, i) => (
              <button
                key={choice}
                type="button"
                aria-pressed={filled.answers[one.code] === i}
                onClick={() => onChange({ ...filled, answers: { ...filled.answers, [one.code]: i } })}
              >
                {choice}
              </button>
            ))}
          </div>
        </fieldset>
      ))}
      <button
        type="button"
        className="next"
        disabled={Object.keys(filled.answers).length === 0}
        onClick={onNext}
      >
        Next
      </button>
    </section>
  );
}
