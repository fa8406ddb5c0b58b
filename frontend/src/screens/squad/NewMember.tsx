import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { knownPeopleQuery } from "../../api/queries/squad";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { ChoiceField, Form, TextField, useSending } from "../../kit/form";

const NEW = "";

/** Somebody new in the squad: a new person, or one who is known and is chosen. Nobody is found by an equal name. */
export function NewMember({ place }: { place: Place }) {
  const { slug, today } = place.squad;
  const toast = useToast();
  const known = useQuery(knownPeopleQuery(slug));
  const [namesake, setNamesake] = useState(false);
  const of = useSending({
    start: { who: NEW, name: "", position: "", number: "", from: today },
    check: ({ who, name }) => ({ name: who === NEW && !name.trim() ? "An athlete has a name." : null }),
    send: ({ who, name, position, number, from }) => {
      const body = { position, number: number.trim() ? Number(number) : null, from_day: from };
      const path = { slug };
      if (who !== NEW)
        return ask(
          api.POST("/api/squads/{slug}/members/known", {
            params: { path },
            body: { ...body, athlete_id: Number(who) },
          }),
        );
      return ask(
        api.POST("/api/squads/{slug}/members", { params: { path }, body: { ...body, name, namesake } }),
      );
    },
    saved: (_made, { position, from }) => {
      toast(`They are in the squad as ${position}, from ${from}.`);
      place.set({ athlete: null }, true);
    },
    renews: [slug],
  });
  const people = known.data?.people ?? [];
  return (
    <Form
      of={of}
      head="A new athlete"
      action="Add to the squad"
      leave="Close"
      onLeave={() => place.set({ athlete: null }, true)}
    >
      {people.length > 0 && (
        <ChoiceField
          of={of}
          name="who"
          also={["athlete_id"]}
          label="Who"
          none="a new person"
          options={people.map((one) => [String(one.athlete_id), `${one.name}, ${one.squads.join(" and ")}`])}
        />
      )}
      {of.typed.who === NEW ? (
        <TextField of={of} name="name" label="Name" maxLength={120} />
      ) : (
        <p className="form-foot">
          Everything that is kept of them can be read in this squad from then on, as far as its roles reach.
        </p>
      )}
      {(of.problem?.body.namesake === true || namesake) && (
        <label className="tick-line">
          <input type="checkbox" checked={namesake} onChange={(event) => setNamesake(event.target.checked)} />{" "}
          This is another person of the same name
        </label>
      )}
      <div className="form-pair">
        <TextField of={of} name="position" label="Position" maxLength={40} />
        <TextField of={of} name="number" label="Number" inputMode="numeric" />
      </div>
      <TextField of={of} name="from" also={["from_day"]} label="From" type="date" />
    </Form>
  );
}
