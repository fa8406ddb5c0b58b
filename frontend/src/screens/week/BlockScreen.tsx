import { Button, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { Block } from "../../api/client";
import { weekQuery } from "../../api/queries/week";
import { BlockWeeks } from "../../charts/BlockWeeks";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Labelled, Select } from "../../kit/fields";
import { BlockTable } from "./BlockTable";
import { weekText, wrongAt } from "./blockStates";
import { useBlock } from "./useBlock";
import "./week.css";

/** Weeks ahead made from one week: laid out, dragged, looked at for the squad and for one, and planned. */
export default function BlockScreen({ place }: { place: Place }) {
  const of = useBlock(place);
  const { block } = of;
  if (!place.may("plan"))
    return (
      <Message title="Blocks are planned by performance staff and coaches">
        Week shows what is planned.
      </Message>
    );
  return (
    <>
      <div className="summary">
        <h1>
          {of.wrong
            ? "The block"
            : block
              ? block.said
              : block === null
                ? "Nobody is in this squad then"
                : "…"}
        </h1>
        <div className="summary-end">
          <Link className="text-button" to={place.to("/week")}>
            Back to the week
          </Link>
        </div>
      </div>
      <div className="block">
        <LayOut place={place} of={of} />
        {of.wrong && !FIELDS.some(({ name }) => wrongAt(of.wrong, name)) && (
          <p role="alert" className="over">
            {of.wrong.message}
          </p>
        )}
        {block && <Laid block={block} of={of} />}
      </div>
    </>
  );
}

type Of = ReturnType<typeof useBlock>;

const FIELDS = [
  { name: "first", label: "From the week of", type: "date" },
  { name: "of", label: "Made from the week of", type: "date" },
  { name: "weeks", label: "Weeks", inputMode: "numeric" },
  { name: "rise", label: "Rise a week, %", inputMode: "decimal" },
  { name: "every", label: "Lighter every (0: none)", inputMode: "numeric" },
] as const;

/** What the weeks are made from, and how they rise. */
function LayOut({ place, of }: { place: Place; of: Of }) {
  const people = useQuery(weekQuery(place.squad.slug, place.day, null));
  const { form, setForm } = of;
  return (
    <form
      className="block-form"
      onSubmit={(event) => {
        event.preventDefault();
        of.layOut();
      }}
    >
      {FIELDS.map(({ name, label, ...input }) => (
        <Labelled key={name} label={label} error={of.typed[name] ?? wrongAt(of.wrong, name) ?? null}>
          <Input
            size="xs"
            {...input}
            value={form[name]}
            onChange={(event) => setForm({ [name]: event.target.value })}
          />
        </Labelled>
      ))}
      <Button type="submit" size="xs" variant="outline">
        Lay out
      </Button>
      <span style={{ width: 190 }}>
        <Select size="xs" label="For whom" value={of.who} onChange={of.setWho}>
          <option value="">the squad, a mean of all</option>
          {people.data?.rows.map((one) => (
            <option key={one.athlete_id} value={one.athlete_id}>
              {one.name}
            </option>
          ))}
        </Select>
      </span>
    </form>
  );
}

function Laid({ block, of }: { block: Block; of: Of }) {
  return (
    <>
      <p className="quiet">
        From {mediumDay(block.first)}, made from the week of {mediumDay(block.of)}: {block.made_from}. Bars
        are week loads, drag them or use the arrows; oat is the corridor with all of it done, dots the base
        load.
      </p>
      <BlockWeeks
        weeks={block.weeks}
        people={block.people}
        name={(i) => weekText(block.weeks[i])}
        onLoad={(i, load) => of.setLoad(i, load)}
      />
      <BlockTable block={block} of={of} />
      <div className="form-actions">
        <Button size="sm" loading={of.plan.isPending} onClick={() => of.plan.mutate()}>
          Plan these weeks
        </Button>
        <span className="quiet">
          Sessions are made or changed week by week; matches stay as they are. It can be undone as a whole.
        </span>
      </div>
    </>
  );
}
