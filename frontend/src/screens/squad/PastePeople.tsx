import { Button, Input, type InputProps, Textarea } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Pasted, type Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled } from "../../kit/fields";
import { type Comer, comersOf, said, startsOf, wrongIn } from "./roster";

/** Many people at once, from a list or a spreadsheet: pasted, looked at, then brought in together. */
export function PastePeople({ place }: { place: Place }) {
  const [text, setText] = useState("");
  const [from, setFrom] = useState(place.squad.today);
  const look = useMutation<Pasted[], Problem>({
    mutationFn: async () => {
      const path = { slug: place.squad.slug };
      return (await ask(api.POST("/api/squads/{slug}/members/pasted", { params: { path }, body: { text } })))
        .people;
    },
  });
  const again = () => look.reset();
  if (look.data && look.data.length > 0)
    return <Look place={place} pasted={look.data} from={from} onBack={again} />;
  return (
    <div className="form-rows">
      <h2 className="form-head">Many athletes at once</h2>
      <p className="quiet">
        A line each, with or without heads: name, number, position, from which day (2026-07-01), birth year,
        dominant side. Nothing comes in before you have looked at it.
      </p>
      <Labelled
        label="Paste the list"
        error={look.error?.message ?? (look.data && "There is nobody in this list.")}
      >
        <Textarea
          rows={12}
          size="sm"
          value={text}
          autoFocus
          onChange={(event) => setText(event.target.value)}
          placeholder={"No.\tName\tPosition\n7\tA. Tarn\twing"}
        />
      </Labelled>
      <Labelled label="In the squad from, where the list does not say">
        <Input size="sm" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
      </Labelled>
      <div className="form-actions">
        <Button
          size="sm"
          loading={look.isPending}
          disabled={!text.trim() || !from}
          onClick={() => look.mutate()}
        >
          Look at them
        </Button>
        <button type="button" className="text-button" onClick={() => place.set({ athlete: null }, true)}>
          Close
        </button>
      </div>
    </div>
  );
}

interface LookProps {
  place: Place;
  pasted: Pasted[];
  from: string;
  onBack: () => void;
}

function Look({ place, pasted, from, onBack }: LookProps) {
  const [comers, setComers] = useState(() => startsOf(pasted, from));
  const queries = useQueryClient();
  const toast = useToast();
  const chosen = comersOf(comers);
  const faulty = comers.filter((one) => wrongIn(one)).length;
  const add = useMutation<{ count: number }, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/members/many", {
          params: { path: { slug: place.squad.slug } },
          body: { people: chosen.map(({ row: _row, ...one }) => one) },
        }),
      ),
    onSuccess: ({ count }) => {
      toast(count === 1 ? "1 athlete is in the squad." : `${count} athletes are in the squad.`);
      askAgain(queries, [place.squad.slug]);
      askAgain(queries, ["me"]);
      place.set({ athlete: null }, true);
    },
  });
  const change = (row: number, what: Partial<Comer>) =>
    setComers((before) => before.map((one, i) => (i === row ? { ...one, ...what } : one)));
  const wrong = (row: number) => {
    const at = chosen.findIndex((one) => one.row === row);
    return ["name", "position", "number", "from_day"]
      .map((field) => add.error?.of(`people.${at}.${field}`))
      .find(Boolean);
  };
  return (
    <div className="form-rows">
      <h2 className="form-head">Who comes in</h2>
      <ol className="comers">
        {comers.map((one, row) => (
          <Line
            key={one.line}
            one={one}
            error={wrongIn(one) || wrong(row)}
            onChange={(what) => change(row, what)}
          />
        ))}
      </ol>
      {add.isError && add.error.errors.length === 0 && (
        <p role="alert" className="field-error">
          {add.error.message}
        </p>
      )}
      <div className="form-actions">
        <Button
          size="sm"
          loading={add.isPending}
          disabled={chosen.length === 0 || faulty > 0}
          onClick={() => add.mutate()}
        >
          Add the {chosen.length}
        </Button>
        {faulty > 0 && (
          <span className="quiet">{faulty === 1 ? "1 line is" : `${faulty} lines are`} not whole yet</span>
        )}
        <button type="button" className="text-button" onClick={onBack}>
          Back to the list
        </button>
      </div>
    </div>
  );
}

interface LineProps {
  one: Comer;
  error: string | undefined;
  onChange: (what: Partial<Comer>) => void;
}

function Line({ one, error, onChange }: LineProps) {
  const remark = said(one);
  const cell = (label: string, field: "name" | "number" | "position" | "from_day", more: InputProps = {}) => (
    <Input
      size="xs"
      aria-label={label}
      value={one[field]}
      onChange={(event) => onChange({ [field]: event.target.value })}
      {...more}
    />
  );
  return (
    <li>
      <input
        type="checkbox"
        aria-label={`${one.name || `Line ${one.line}`} comes in`}
        checked={one.takes}
        onChange={(event) => onChange({ takes: event.target.checked })}
      />
      {cell("Name", "name")}
      {cell("Number", "number", { inputMode: "numeric" })}
      {cell("Position", "position")}
      {cell("From", "from_day", { type: "date" })}
      {error && <p className="field-error">{error}</p>}
      {remark && <p className="quiet">{remark}</p>}
      {one.doubtful && (
        <label className="tick-line">
          <input
            type="checkbox"
            checked={one.namesake}
            onChange={(event) => onChange({ namesake: event.target.checked, takes: event.target.checked })}
          />{" "}
          This is another person of the same name
        </label>
      )}
    </li>
  );
}
