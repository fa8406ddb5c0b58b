import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, ask, type BlockWant, type Problem } from "../../api/client";
import { plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { typedNumber } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { dragged, noNumbers, shareFor, wantedOf } from "./blockStates";

interface Form {
  first: string;
  of: string;
  weeks: string;
  rise: string;
  every: string;
}

/** Weeks laid out by a rise, or as they were dragged since. */
type Asked = { rising: { weeks: number; rise: number; every: number } } | { weeks: BlockWant[] };

const laidOut = (form: Form): Asked => ({
  rising: {
    weeks: typedNumber(form.weeks),
    rise: typedNumber(form.rise) / 100,
    every: typedNumber(form.every),
  },
});

/** A block as it is laid out, dragged and planned. */
export function useBlock(place: Place) {
  const { slug } = place.squad;
  const toast = useToast();
  const [form, set] = useState<Form>({
    first: plusDays(place.day, 7),
    of: plusDays(place.day, -7),
    weeks: "12",
    rise: "5",
    every: "5",
  });
  const [asked, setAsked] = useState<Asked>(() => laidOut(form));
  const [typed, setTyped] = useState(() => noNumbers(form));
  const [goals, setGoals] = useState<string[]>([]);
  const [who, setWho] = useState("");
  const shown = useRested(asked);
  const path = { params: { path: { slug } } };
  const found = useQuery<Awaited<ReturnType<typeof project>>, Problem>({
    queryKey: [slug, "block", form.first, form.of, who, shown],
    queryFn: () => project(),
    placeholderData: keepPreviousData,
    retry: false,
    enabled: place.may("plan"),
  });
  function project() {
    return ask(
      api.POST("/api/squads/{slug}/week/block/projected", {
        ...path,
        body: {
          first: form.first,
          of: form.of,
          athlete_id: who ? Number(who) : null,
          weeks: "weeks" in shown ? shown.weeks : [],
          rising: "rising" in shown ? shown.rising : null,
        },
      }),
    );
  }
  // A bar goes with the hand that drags it; what it comes to follows once that rests.
  const block = found.data && "weeks" in asked ? dragged(found.data, asked.weeks) : found.data;
  const wanted = wantedOf(block, goals);
  const change = (i: number, more: Partial<BlockWant>) =>
    setAsked({ weeks: wanted.map((one, at) => (at === i ? { ...one, ...more } : one)) });
  const back = useDoing([slug], (body: Awaited<ReturnType<typeof save>>) =>
    ask(api.POST("/api/squads/{slug}/week/block/take-back", { ...path, body })),
  );
  const save = () =>
    ask(
      api.PUT("/api/squads/{slug}/week/block", {
        ...path,
        body: { first: form.first, of: form.of, weeks: wanted, edition: block?.edition ?? "" },
      }),
    );
  const plan = useDoing([slug], save, (body) => toast("The weeks are planned so.", () => back.mutate(body)));
  return {
    form,
    setForm: (more: Partial<Form>) => set((before) => ({ ...before, ...more })),
    /** What is typed where a number belongs, by field. */
    typed,
    layOut: () => {
      const wrong = noNumbers(form);
      setTyped(wrong);
      if (Object.keys(wrong).length === 0) setAsked(laidOut(form));
    },
    who,
    setWho,
    block,
    wrong: found.error,
    goals: wanted.map((one) => one.goal ?? ""),
    setGoal: (i: number, goal: string) =>
      setGoals(wanted.map((one, at) => (at === i ? goal : (one.goal ?? "")))),
    setLighter: (i: number, lighter: boolean) => change(i, { lighter }),
    setLoad: (i: number, load: number) => {
      const week = block?.weeks[i];
      if (week) change(i, { share: shareFor(week, load) });
    },
    plan,
  };
}

/** Milliseconds of rest after which what was dragged is worked out. */
const REST = 200;

/** A value once it has rested: dragging asks for one picture, not for one a movement. */
function useRested<Value>(value: Value): Value {
  const [rested, set] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => set(() => value), REST);
    return () => clearTimeout(timer);
  }, [value]);
  return rested;
}
