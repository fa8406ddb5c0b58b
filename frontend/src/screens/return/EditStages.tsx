import { Button, Input } from "@chakra-ui/react";
import { useState } from "react";
import { api, ask, Problem, type ReturnWhole } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { StageFields } from "./StageFields";
import { newStage, sentStages, type TypedStage, typedStages, wrongIn } from "./stagesEdit";

type Sent = ReturnType<typeof sentStages>;

/** The stages of one plan, changed by a clinician: what each holds and allows, and what has to hold to go on. */
export function EditStages({ place, whole }: { place: Place; whole: ReturnWhole }) {
  const { slug } = place.squad;
  const toast = useToast();
  const [stages, setStages] = useState(() => typedStages(whole.stages));
  const [words, setWords] = useState("");
  const [wrong, setWrong] = useState<Problem | null>(null);
  // As they stood when they were opened, whatever comes in meanwhile.
  const [stood] = useState(() => ({ stages: sentStages(typedStages(whole.stages)), version: whole.version }));
  // Somebody has changed them since: what is typed stays, and goes over theirs when it is sent once more.
  const [over, setOver] = useState(false);
  const version = over ? whole.version : stood.version;
  const leave = () => place.set({ begin: null });
  const put = (body: { stages: Sent; words: string; version: number }) =>
    ask(
      api.PUT("/api/squads/{slug}/return/{plan_id}/stages", {
        params: { path: { slug, plan_id: whole.row.plan_id } },
        body,
      }),
    );
  const back = useDoing([slug], (made: number) =>
    put({ stages: stood.stages, words: "as they were", version: made }),
  );
  const save = useDoing(
    [slug],
    (version: number) => put({ stages: sentStages(stages), words, version }),
    (_, version) => {
      toast("The stages are changed.", () => back.mutate(version + 1));
      leave();
    },
  );
  const send = () => {
    const errors = wrongIn(stages);
    if (errors.length > 0)
      return setWrong(new Problem(422, "Something is missing, or is no number.", { errors }));
    save.mutate(version, {
      onError: (problem) => {
        setWrong(problem);
        setOver(problem.status === 409);
      },
    });
  };
  const change = (i: number, to: TypedStage) => setStages(stages.map((one, at) => (at === i ? to : one)));
  const holds = whole.stage?.number ?? 1;
  return (
    <form
      className="edit-stages"
      noValidate
      onSubmit={(event) => {
        event.preventDefault();
        send();
      }}
    >
      <h2>Stages of {whole.row.name}</h2>
      <p className="quiet">
        What a coach reads of a stage is what it holds. Whatever is measured stays with the name it has.
      </p>
      {stages.map((stage, i) => (
        <StageFields
          key={stage.id}
          stage={stage}
          at={i}
          holds={i + 1 === holds}
          wrong={(field) => wrong?.of(`stages.${i}.${field}`)}
          onChange={(to) => change(i, to)}
          onOut={i + 1 > holds ? () => setStages(stages.filter((_, at) => at !== i)) : undefined}
        />
      ))}
      <p>
        <button type="button" className="text-button" onClick={() => setStages([...stages, newStage()])}>
          Add a stage
        </button>
      </p>
      <Labelled label="Why (optional)" error={wrong?.of("words")}>
        <Input size="sm" value={words} maxLength={300} onChange={(event) => setWords(event.target.value)} />
      </Labelled>
      {wrong && (
        <p role="alert" className="field-error">
          {wrong.of("stages") ?? wrong.message}
        </p>
      )}
      <div className="form-actions">
        <Button type="submit" size="sm" loading={save.isPending}>
          Save the stages
        </Button>
        <button type="button" className="text-button" onClick={leave}>
          Close
        </button>
      </div>
    </form>
  );
}
