import { useState } from "react";
import type { Asked } from "../../api/client";
import { typedNumber } from "../../kit/fields";

interface ScaleProps {
  asked: Asked;
  value: number | undefined;
  /** What a plan says, offered but never taken by itself. */
  planned?: number | null;
  onAnswer: (value: number) => void;
}

/** One question with the means to answer it in one tap. */
export function Scale(props: ScaleProps) {
  const { asked } = props;
  if (asked.code === "sleep_hours") return <Hours {...props} />;
  if (asked.most <= 10 && asked.step >= 0.5) return <Ladder {...props} />;
  return <Typed {...props} />;
}

/** Rungs from 10 at the top to 0: the higher, the longer the rung. Half points stand at its end where they count. */
function Ladder({ asked, value, onAnswer }: ScaleProps) {
  const rungs = Array.from({ length: asked.most - asked.least + 1 }, (_, i) => asked.most - i);
  return (
    <fieldset className="ladder">
      <legend className="visually-hidden">{asked.question}</legend>
      {rungs.map((rung) => {
        const word = rung === asked.most ? asked.high : rung === asked.least ? asked.low : "";
        return (
          <div key={rung} className="rung">
            <button
              type="button"
              aria-pressed={value === rung}
              aria-label={word ? `${rung}, ${word}` : String(rung)}
              onClick={() => onAnswer(rung)}
            >
              <b>{rung}</b>
              <i style={{ width: `${12 + (rung / asked.most) * 88}%` }} />
              <span>{word}</span>
            </button>
            {asked.step === 0.5 && rung < asked.most && (
              <button
                type="button"
                className="half"
                aria-pressed={value === rung + 0.5}
                aria-label={`${rung} and a half`}
                onClick={() => onAnswer(rung + 0.5)}
              >
                {rung}½
              </button>
            )}
          </div>
        );
      })}
    </fieldset>
  );
}

const HOURS = Array.from({ length: 20 }, (_, i) => 2 + i / 2);

function Hours({ asked, value, onAnswer }: ScaleProps) {
  return (
    <fieldset className="hours">
      <legend className="visually-hidden">{asked.question}</legend>
      {HOURS.map((hours) => (
        <button
          key={hours}
          type="button"
          aria-pressed={value === hours}
          aria-label={`${hours} hours`}
          onClick={() => onAnswer(hours)}
        >
          {Math.floor(hours)}
          {hours % 1 ? "½" : ""}
          {hours % 1 ? "" : <small> h</small>}
        </button>
      ))}
    </fieldset>
  );
}

/** A number to type, with the planned one as a button. */
function Typed({ asked, value, planned, onAnswer }: ScaleProps) {
  const [text, setText] = useState(value === undefined ? "" : String(value));
  const number = typedNumber(text);
  const wrong = text.trim() !== "" && !(number >= asked.least && number <= asked.most);
  return (
    <form
      className="typed"
      onSubmit={(event) => {
        event.preventDefault();
        if (!wrong && text.trim()) onAnswer(Math.round(number / asked.step) * asked.step);
      }}
    >
      {planned ? (
        <button type="button" className="big" onClick={() => onAnswer(planned)}>
          {planned} {asked.unit}, as planned
        </button>
      ) : null}
      {asked.least === 0 && (
        <button type="button" className="big" onClick={() => onAnswer(0)}>
          None: I took no part
        </button>
      )}
      <label>
        {planned ? "Or another number" : "Your answer"}, {asked.unit}
        <input
          inputMode="decimal"
          value={text}
          aria-invalid={wrong}
          onChange={(event) => setText(event.target.value)}
        />
      </label>
      {wrong && (
        <p role="alert" className="over">
          It is {asked.least} to {asked.most} {asked.unit}.
        </p>
      )}
      <button type="submit" className="next" disabled={wrong || !text.trim()}>
        Next
      </button>
    </form>
  );
}
