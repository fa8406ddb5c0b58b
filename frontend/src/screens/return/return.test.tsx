// @vitest-environment jsdom

import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { ReturnRow, Returns, ReturnWhole } from "../../api/client";
import type { Place } from "../../frame/place";
import { box, show as draw } from "../../testing";
import { system } from "../../theme/system";
import { GiveOut } from "./GiveOut";
import { ReturnList } from "./ReturnList";
import { StagePanel } from "./StagePanel";
import { Ways } from "./Ways";

interface Asked {
  params: { path: Record<string, string> };
  body?: unknown;
}

const { sent, send } = vi.hoisted(() => {
  const sent: { path: string; body: unknown }[] = [];
  const send = async (path: string, { params, body }: Asked) => {
    sent.push({ path: path.replace(/{(\w+)}/g, (_, name) => params.path[name] ?? ""), body });
    return { done: true };
  };
  return { sent, send };
});

vi.mock("../../frame/toast", () => ({ useToast: () => () => {} }));
vi.mock("../../api/client", async (original) => ({
  ...(await original<object>()),
  api: { POST: send, PUT: send },
  ask: (answer: unknown) => answer,
}));

const set = vi.fn();
const place = (...may: string[]) =>
  ({
    squad: { slug: "north", today: "2026-03-12" },
    day: "2026-03-12",
    may: (action: string) => may.includes(action),
    set,
    to: (path: string) => path,
  }) as unknown as Place;

const row = (name: string, more = {}) =>
  ({
    plan_id: name,
    athlete_id: 1,
    name,
    number: 7,
    position: "back",
    what: "right shoulder",
    state: "way",
    said: `${name} is in week 2.`,
    short: "Full week from Mon 6 April.",
    stage: 3,
    stages: 5,
    first_off: "2026-02-01",
    first_day: "2026-03-02",
    target: "2026-03-28",
    reached: 80,
    back: "",
    from_day: "2026-02-01",
    weeks: [{ first: "2026-03-02", share: 50, again: false }],
    measured: [100, null, 20],
    group: name,
    allowed: ["effort at most 7"],
    ...more,
  }) as ReturnRow;

const criterion = { asks: "asked", said: "there", missing: "more", marks: [], most: 10, most_after: 1 };
const whole = {
  row: row("A"),
  version: 4,
  today: "2026-03-12",
  needed: 100,
  school: "standard",
  shares: [50, 100],
  own_steps: false,
  stages: [],
  to_day: "2026-05-01",
  stage: {
    number: 3,
    of: 5,
    content: "passing only",
    since: "2026-03-01",
    day: 12,
    criteria: [
      { ...criterion, key: "strength", name: "Strength", looks: "sides", met: false, measured: true },
      { ...criterion, key: "word", name: "Word", looks: "word", met: false, measured: false },
    ],
    advice: "",
    back_if: ["pain over 3"],
    spans: [],
  },
  ways: [
    {
      kind: "later",
      title: "Move",
      possible: true,
      costs: "a match",
      target: "2026-04-11",
      shares: [],
      matches: [],
    },
    {
      kind: "quicker",
      title: "Shorten",
      possible: true,
      costs: "a rise",
      target: null,
      shares: [80, 100],
      matches: [],
    },
    { kind: "part", title: "Part", possible: false, costs: "none", target: null, shares: [], matches: [] },
  ].map((one) => ({ ...one, load: "", held: "", needs: "", weeks: [] })),
} as unknown as ReturnWhole;

beforeEach(() => {
  sent.length = 0;
  set.mockClear();
});

afterEach(async () => {
  vi.unstubAllGlobals();
});

async function show(what: ReactNode) {
  await draw(
    <ChakraProvider value={system}>
      <QueryClientProvider client={new QueryClient()}>
        <MemoryRouter>{what}</MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>,
  );
}

const button = (name: string) =>
  [...box.querySelectorAll("button")].find((one) => one.textContent?.trim() === name) as HTMLButtonElement;
const press = (name: string) => act(async () => button(name).click());

async function type(field: HTMLInputElement, value: string) {
  const put = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), "value")?.set;
  await act(async () => {
    put?.call(field, value);
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
}

it("lets a clinician measure, and asks why before a stage goes on with something open", async () => {
  await show(<StagePanel place={place("edit_clinical")} whole={whole} />);
  expect(box.textContent).toContain("0 of 2 criteria hold.");
  expect(button("On to stage 4").disabled).toBe(true);
  await press("Enter today’s");
  const [hurt, other] = box.querySelectorAll("input");
  await type(hurt as HTMLInputElement, "18,2");
  expect(button("Save").disabled).toBe(true);
  await type(other as HTMLInputElement, "20");
  await press("Save");
  expect(sent[0]).toMatchObject({
    path: "/api/squads/north/return/A/measured",
    body: { criterion: "strength", value: 18.2, other: 20 },
  });
  await press("Give the word");
  expect(sent[1]?.path).toBe("/api/squads/north/return/A/word");
});

it("lets anybody step back, and nobody but a clinician on", async () => {
  const told = { ...whole, stage: whole.stage && { ...whole.stage, criteria: [] } };
  await show(<StagePanel place={place("read_availability")} whole={told} />);
  expect(button("On to stage 4")).toBeUndefined();
  expect(box.textContent).toContain("Anybody steps back at once.");
  await press("Step back");
  expect(sent[0]).toMatchObject({ path: "/api/squads/north/return/A/stage", body: { to: 2, version: 4 } });
});

it("offers the ways that are one's own to choose, and a shorter one only with a reason", async () => {
  await show(<Ways place={place("plan_returns")} whole={whole} />);
  expect(button("Part")).toBeUndefined();
  await press("Shorten");
  const take = () => box.querySelector(".return-take button") as HTMLButtonElement;
  expect(take().disabled).toBe(true);
  await type(box.querySelector(".return-take input") as HTMLInputElement, "a final");
  await act(async () => take().click());
  expect(sent[0]?.body).toMatchObject({
    shares: [80, 100],
    words: "a final",
    version: 4,
    target_day: "2026-03-28",
  });
});

it("moves the date, and leaves everything else of the plan as it is", async () => {
  await show(<Ways place={place("plan_returns")} whole={whole} />);
  await press("Move");
  await act(async () => (box.querySelector(".return-take button") as HTMLButtonElement).click());
  expect(sent[0]?.body).toMatchObject({
    target_day: "2026-04-11",
    shares: null,
    needed: 100,
    school: "standard",
  });
});

const returns = (rows: ReturnRow[], more = {}) =>
  ({
    day: "2026-03-12",
    from_day: "2026-01-29",
    to_day: "2026-05-14",
    rows,
    trials: [],
    breaks: [],
    ...more,
  }) as unknown as Returns;

it("groups the list by what is wrong, and a squad's break into one row that opens", async () => {
  const chosen = vi.fn();
  const many = ["K", "L", "M", "N"].map((name) => row(name, { group: "summer", state: "ahead" }));
  const all = returns([row("A", { state: "short" }), row("B", { back: "pain 4" }), ...many]);
  await show(<ReturnList place={place()} returns={all} chosen="L" onChoose={chosen} />);
  expect([...box.querySelectorAll("h2")].map((one) => one.textContent)).toEqual([
    "Date does not fit 1",
    "On the way 1",
    "Ahead 4",
  ]);
  expect(box.textContent).toContain("4 people");
  expect(box.textContent).toContain("One stage back proposed: pain 4.");
  await press("M");
  expect(chosen).toHaveBeenCalledWith("M");
});

it("offers a plan for a break that has none, with its days, to who may begin one", async () => {
  const off = {
    athlete_id: 9,
    name: "Z",
    position: "wing",
    first_off: "2026-02-20",
    back: "2026-03-10",
    days: 18,
    said: "no work.",
    channel: "",
  };
  await show(
    <ReturnList
      place={place("plan_returns")}
      returns={returns([], { breaks: [off] })}
      chosen={undefined}
      onChoose={() => {}}
    />,
  );
  await act(async () => (box.querySelector("section button") as HTMLButtonElement).click());
  expect(set).toHaveBeenCalledWith({ begin: "one", who: "9", off: "2026-02-20", back: "2026-03-10" });
  await show(
    <ReturnList
      place={place()}
      returns={returns([], { breaks: [off] })}
      chosen={undefined}
      onChoose={() => {}}
    />,
  );
  expect(box.querySelector("section button")).toBeNull();
});

it("tells a season's end to everybody, and offers to plan the way back from it to who may", async () => {
  const season_break = {
    name: "Summer",
    first_off: "2026-06-15",
    first_day: "2026-07-13",
    target: "2026-08-01",
    said: "Summer: 28 days from Mon 15 June.",
  };
  const list = (...may: string[]) =>
    show(
      <ReturnList
        place={place(...may)}
        returns={returns([], { season_break })}
        chosen={undefined}
        onChoose={() => {}}
      />,
    );
  await list();
  expect(box.textContent).toContain("The season endsSummer: 28 days from Mon 15 June.");
  expect(box.querySelector("section button")).toBeNull();
  await list("plan_returns");
  await press("Plan the way back of everybody");
  expect(set).toHaveBeenLastCalledWith({
    begin: "squad",
    off: "2026-06-15",
    back: "2026-07-13",
    by: "2026-08-01",
  });
});

it("gives the sheet to everybody and the files to who may plan", async () => {
  await show(<GiveOut place={place()} returns={returns([row("A")])} />);
  expect(box.textContent).toContain("A is in week 2. Today: effort at most 7.");
  expect(box.querySelectorAll("a")).toHaveLength(0);
  await show(<GiveOut place={place("plan_returns")} returns={returns([row("A")])} />);
  expect(box.querySelector("a")?.getAttribute("href")).toBe(
    "/api/squads/north/return/weeks.csv?day=2026-03-12",
  );
});
