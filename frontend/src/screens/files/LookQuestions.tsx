import type { FilePreview, FileSpec } from "../../api/client";

interface LookQuestionsProps {
  questions: FilePreview["questions"];
  answers: NonNullable<FileSpec["answers"]>;
  onAnswer: (key: string, value: string) => void;
  onAskAgain: () => void;
}

/** What a file leaves open, with what would follow from each answer; nothing is guessed. */
export function LookQuestions({ questions, answers, onAnswer, onAskAgain }: LookQuestionsProps) {
  return (
    <>
      {questions.map((question) => (
        <Asked key={question.key} question={question} answer={answers[question.key]} onAnswer={onAnswer} />
      ))}
      {Object.keys(answers).length > 0 && (
        <p>
          <button type="button" className="text-button" onClick={onAskAgain}>
            Ask again what was answered
          </button>
        </p>
      )}
    </>
  );
}

interface AskedProps {
  question: FilePreview["questions"][number];
  answer: string | undefined;
  onAnswer: LookQuestionsProps["onAnswer"];
}

function Asked({ question, answer, onAnswer }: AskedProps) {
  return (
    <fieldset className="look-question">
      <legend>{question.said}</legend>
      {question.choices.map((choice) => (
        <label key={choice.value}>
          <input
            type="radio"
            name={question.key}
            value={choice.value}
            checked={answer === choice.value}
            onChange={() => onAnswer(question.key, choice.value)}
          />
          <span>{choice.said}</span>
        </label>
      ))}
    </fieldset>
  );
}
