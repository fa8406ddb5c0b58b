// @vitest-environment jsdom

import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { Problem, type ReturnWhole, type SideRow } from "../../api/client";
import type { Place } from "../../frame/place";
import { box, button, show as draw, press, put, putInto, submit, text } from "../../testing";
import { system } from "../../theme/system";
import { BeginReturn } from "./BeginReturn";
import { ChangeReturn } from "./ChangeReturn";
import { EditStages } from "./EditStages";
import { SidesPanel } from "./SidesPanel";
import { SideWalk } from "./SideWalk";
import { SquadBreak } from "./SquadBreak";
import { Summary } from "./Summary";
import { WithoutLoad } from "./WithoutLoad";

interface Asked {
  params: { path: Record<string, string> };
  body?: Record<string, unknown>;
}

const { sent, answers, send, told, list } = vi.hoisted(() => {
  const sent: { path: string; body?: Record<string, unknown> }[] = [];
  const answers: unknown[] = [];
  const send = async (path: string, { params, body }: Asked) => {
    sent.push({
      path: path.replace(/{(\w+)}/g, (_, name) => params.path[name] ?? ""),
      ...(body && { body }),
    });
    const answer = answers.shift() ?? { done: true };
    if (answer instanceof Error) throw answer;
    return answer;
  };
  const told: { said: string; undo?: () => void }[] = [];
  const list: { rows: unknown[] } = { rows: [] };
  return { sent, answers, send, told, list };
});

vi.mock("../../frame/toast", () => ({
  useToast: () => (said: string, undo?: () => void) => told.push({ said, ...(undo && { undo }) }),
}));
vi.mock("../../frame/usePeople", () => ({
  usePeople: () => ({ athletes: [{ athlete_id: 7, name: "A" }], positions: [] }),
}));
vi.mock("../../api/client", async (original) => ({
  ...(await original<object>()),
  api: {
    POST: send,
    PUT: send,
    GET: async () => ({
      ...list,
      templates: [
        { code: "shoulder", name: "Shoulder", stages: 5, refers: false },
        { code: "head", name: "Head knock", stages: 1, refers: true },
      ],
    }),
  },
  ask: (answer: unknown) => answer,
}));

const set = vi.fn();

const place = (address: Record<string, string>, ...may: string[]) =>
  ({
    squad: { slug: "north", today: "2026-03-12" },
    day: "2026-03-12",
    may: (action: string) => may.includes(action),
    get: (name: string) => address[name] ?? null,
    set,
  }) as unknown as Place;

beforeEach(() => {
  for (const list of [sent, answers, told]) list.length = 0;
  set.mockClear();
});

afterEach(async () => {
  vi.unstubAllGlobals();
});

async function show(what: ReactNode) {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  await draw(
    <ChakraProvider value={system}>
      <QueryClientProvider client={queries}>{what}</QueryClientProvider>
    </ChakraProvider>,
  );
  await act(async () => {});
}

const named = <Found extends HTMLElement>(name: string) =>
  box.querySelector<Found>(`[name="${name}"]`) as Found;

it("asks for what is missing before anything is sent, and keeps what was typed", async () => {
  await show(<BeginReturn place={place({}, "plan_returns")} />);
  await put(named<HTMLInputElement>("needed"), "lots");
  await submit();
  for (const said of ["Choose who comes back.", "Say the first day off.", "A share such as 90."])
    expect(text()).toContain(said);
  expect(sent).toEqual([]);
  expect(named<HTMLInputElement>("needed").value).toBe("lots");
});

it("offers an injury to clinicians alone, and lays nothing out for what is referred", async () => {
  await show(<BeginReturn place={place({}, "plan_returns")} />);
  expect(box.querySelectorAll('select[aria-label="Back from"] option')).toHaveLength(2);
  await show(<BeginReturn key="clinician" place={place({}, "plan_returns", "edit_clinical")} />);
  expect(box.querySelectorAll('select[aria-label="Back from"] option')).toHaveLength(4);
  expect(text()).not.toContain("Nothing is laid out for this");
  // The templates have to arrive first.
  await act(async () => vi.waitFor(() => expect(box.querySelector('option[value="head"]')).not.toBeNull()));
  await putInto("Stages", "head");
  expect(text()).toContain("Nothing is laid out for this: refer.");
  expect(box.querySelector('select[aria-label="Side"]')).toBeNull();
  await putInto("Where", "shoulder");
  expect(box.querySelector('select[aria-label="Side"]')).not.toBeNull();
});

it("takes over a break that was found, and lets its plan be taken back", async () => {
  answers.push({ id: "new" });
  await show(
    <BeginReturn place={place({ who: "7", off: "2026-02-20", back: "2026-03-10" }, "plan_returns")} />,
  );
  await submit();
  expect(sent[0]).toMatchObject({
    path: "/api/squads/north/return",
    body: { athlete_id: 7, kind: "layoff", first_off: "2026-02-20", first_day: "2026-03-10", replaces: null },
  });
  expect(set).toHaveBeenCalledWith(expect.objectContaining({ begin: null, plan: "new" }));
  await act(async () => told[0]?.undo?.());
  expect(sent[1]).toEqual({
    path: "/api/squads/north/return/squad-break/take-back",
    body: { plans: ["new"] },
  });
});

it("lets a plan that runs give way only once that is ticked", async () => {
  const running = {
    detail: "There is a plan.",
    running: "old",
    errors: [{ field: "athlete_id", detail: "There is a plan." }],
  };
  answers.push(new Problem(422, "There is a plan.", running), { id: "new" });
  await show(<BeginReturn place={place({ who: "7", off: "2026-02-20" }, "plan_returns")} />);
  await submit();
  expect(text()).toContain("There is a plan.");
  await act(async () => named<HTMLInputElement>("replaces").click());
  await submit();
  expect(sent.map(({ body }) => body?.replaces)).toEqual([null, "old"]);
});

it("plans a squad's break from days in order, says who had a plan, and undoes all of it", async () => {
  answers.push({ made: ["a", "b"], left: ["C"] });
  await show(<SquadBreak place={place({}, "plan_returns")} />);
  await put(named<HTMLInputElement>("first_day"), "2026-03-01");
  await submit();
  expect(text()).toContain("Back on a day after the first day off.");
  await put(named<HTMLInputElement>("first_day"), "2026-04-09");
  await submit();
  expect(sent[0]?.body).toEqual({
    first_off: "2026-03-13",
    first_day: "2026-04-09",
    target_day: null,
    school: "standard",
  });
  expect(told[0]?.said).toBe("2 plans to come back stand. C had one already.");
  await act(async () => told[0]?.undo?.());
  expect(sent[1]?.body).toEqual({ plans: ["a", "b"] });
});

const whole = {
  row: { plan_id: "A", state: "way", target: "2026-03-28" },
  version: 4,
  needed: 100,
  school: "standard",
  shares: [50, 70, 100],
  own_steps: false,
  usual: 1800,
} as unknown as ReturnWhole;

it("changes steps by hand with the version that was seen, and shows what is wrong at its field", async () => {
  const why = { errors: [{ field: "words", detail: "It takes a reason." }] };
  answers.push(new Problem(422, "", why));
  await show(<ChangeReturn place={place({}, "plan_returns")} whole={whole} />);
  await put(named<HTMLInputElement>("steps"), "80, fast");
  await submit();
  expect(text()).toContain("Steps such as 50, 70, 100.");
  await put(named<HTMLInputElement>("steps"), "80, 100");
  await submit();
  expect(sent[0]).toMatchObject({
    path: "/api/squads/north/return/A",
    body: { shares: [80, 100], target_day: "2026-03-28", version: 4, usual: null },
  });
  expect(text()).toContain("It takes a reason.");
  expect(named<HTMLInputElement>("steps").value).toBe("80, 100");
});

it("opens by itself where a plan waits for a usual week", async () => {
  await show(<ChangeReturn place={place({}, "plan_returns")} whole={whole} />);
  expect(box.querySelector("details")?.open).toBe(false);
  const waits = { ...whole, row: { ...whole.row, state: "waits" as const } };
  await show(<ChangeReturn key="waits" place={place({}, "plan_returns")} whole={waits} />);
  expect(box.querySelector("details")?.open).toBe(true);
});

it("gives a summary out only for somebody and with the athlete's leave, and hands on the file", async () => {
  const pressed = vi.spyOn(HTMLAnchorElement.prototype, "click").mockImplementation(() => {});
  const made = vi.fn(() => "blob:x");
  Object.assign(URL, { createObjectURL: made, revokeObjectURL: vi.fn() });
  await show(<Summary place={place({}, "edit_clinical")} whole={whole} />);
  await submit();
  expect(text()).toContain("Say who it is for.");
  expect(text()).toContain("Say how and when the athlete agreed.");
  expect(sent).toEqual([]);
  await put(named<HTMLInputElement>("to"), "Clinic at Harn");
  await put(named<HTMLInputElement>("consent"), "on paper, today");
  const pdf = new Blob(["%PDF"]);
  answers.push(new Problem(0, "The server does not answer. What you typed is kept here."), pdf);
  await submit();
  expect(text()).toContain("The server does not answer.");
  expect(named<HTMLInputElement>("to").value).toBe("Clinic at Harn");
  expect(pressed).not.toHaveBeenCalled();
  await submit();
  expect(sent.at(-1)).toEqual({
    path: "/api/squads/north/return/A/summary",
    body: { day: "2026-03-12", to: "Clinic at Harn", consent: "on paper, today" },
  });
  expect(made).toHaveBeenCalledWith(pdf);
  expect(pressed).toHaveBeenCalledOnce();
  expect(set).toHaveBeenLastCalledWith({ begin: null });
});

it("changes stages at their place, keeps what was typed where one is refused, and takes it back", async () => {
  const stages = [1, 2].map((n) => ({
    content: `stage ${n}`,
    criteria: [
      { key: "word", looks: "word", name: "Clinician’s word", during: 0, after: 0, many: 0, percent: 0 },
    ],
    effort_cap: null,
    minutes_share: null,
    closed: false,
    entry: [],
  }));
  const plan = { ...whole, stages, stage: { number: 2 } } as unknown as ReturnWhole;
  await show(<EditStages place={place({}, "edit_clinical")} whole={plan} />);
  // The stage that holds, and those before it, are not taken out.
  expect(button("Take stage")).toBeUndefined();
  await press("Ask for something more", 1);
  await submit();
  expect(sent).toEqual([]);
  expect(text()).toContain("Say what is measured.");
  await putInto("What is measured", "Single-leg hop");
  await putInto("Single-leg hop: % weaker at most", "x");
  await submit();
  expect(text()).toContain("A number.");
  expect(sent).toEqual([]);
  await putInto("Single-leg hop: % weaker at most", "12,5");
  const refused = { errors: [{ field: "stages.0.criteria.1.percent", detail: "Too much." }] };
  answers.push(new Problem(422, "Too much.", refused));
  await submit();
  expect(text()).toContain("Too much.");
  await press("Add a stage");
  expect(button("Take stage 3 out")).not.toBeUndefined();
  await submit();
  const body = sent.at(-1)?.body as { stages: typeof stages; version: number };
  expect(sent.at(-1)?.path).toBe("/api/squads/north/return/A/stages");
  expect(body.version).toBe(4);
  expect(body.stages).toHaveLength(3);
  expect(body.stages[0]?.criteria[1]).toMatchObject({ key: "single_leg_hop", looks: "sides", percent: 12.5 });
  expect(set).toHaveBeenLastCalledWith({ begin: null });
  await act(async () => told.at(-1)?.undo?.());
  expect(sent.at(-1)?.body).toMatchObject({ stages, version: 5 });
});

it("plans what somebody watches, and takes it back", async () => {
  const session = {
    session_id: "s1",
    name: "Court",
    day: "2026-03-13",
    starts_at: "2026-03-13T17:00:00Z",
    how: null,
    done: false,
  };
  const beside = [session, { ...session, session_id: "s0", name: "Gym", how: "walk", done: true }];
  const plan = { ...whole, beside } as unknown as ReturnWhole;
  await show(<WithoutLoad place={place({}, "plan")} whole={plan} />);
  expect(text()).toContain("Gymwalked through it");
  expect(box.querySelectorAll("select")).toHaveLength(1);
  await putInto("Court, Fri 13, without load", "watch");
  expect(sent).toEqual([
    { path: "/api/squads/north/return/A/beside", body: { session_id: "s1", how: "watch" } },
  ]);
  expect(told.at(-1)?.said).toContain("watches: Court, Fri 13.");
  await act(async () => told.at(-1)?.undo?.());
  expect(sent.at(-1)?.body).toEqual({ session_id: "s1", how: null });
  expect(told).toHaveLength(1);
  // Who may not plan reads it.
  await show(<WithoutLoad key="reads" place={place({})} whole={plan} />);
  expect(box.querySelectorAll("select")).toHaveLength(0);
});

const side = {
  check: null,
  version: 0,
  athlete_id: 7,
  name: "A. Orrin",
  test: "squat",
  test_name: "Squat",
  percent: 20,
  stronger: "left",
  tested: "2026-03-07",
  from_day: null,
  ranges: [],
  strengths: [],
  asks: "range",
  comes: null,
  suits: null,
  how: null,
  sets: null,
  retest_on: null,
  words: "",
  said: "Look in this order.",
  over: false,
} as SideRow;

it("walks from range to strength, and asks what is done only once it is known where it comes from", async () => {
  const walk = (row: SideRow) =>
    show(
      <SideWalk key={row.version} place={place({}, "enter_reports")} row={row} check="c" onDone={vi.fn()} />,
    );
  await walk(side);
  expect(text()).not.toContain("2. Strength");
  await putInto("Range: joint 1", "Hip");
  expect(text()).toContain("2. Strength");
  await putInto("Range of Hip, left", "100");
  await putInto("Range of Hip, right", "98,5");
  // A line for the next joint is always there, and an empty one is not sent.
  expect(box.querySelector('[aria-label="Range: joint 2"]')).not.toBeNull();
  const refused = { errors: [{ field: "strengths.0.left", detail: "A measured value is more than 0." }] };
  answers.push(new Problem(422, "no", refused));
  await putInto("Strength: joint 1", "Hip");
  await submit();
  expect(text()).toContain("A measured value is more than 0.");
  expect(sent.at(-1)).toEqual({
    path: "/api/squads/north/sides/c",
    body: {
      ranges: [{ name: "Hip", left: 100, right: 98.5 }],
      strengths: [{ name: "Hip", left: 0, right: 0 }],
      how: null,
      sets: null,
      retest_on: null,
      words: "",
      version: 0,
    },
  });
  const known = { ...side, version: 2, asks: null, comes: "strength", suits: "sets" } as SideRow;
  await walk(known);
  expect(text()).toContain("3. What is done about it");
  expect(text()).toContain("added sets on the weaker side (suits)");
  await put(box.querySelector("select") as HTMLSelectElement, "sets");
  expect(text()).toContain("Added sets");
});

it("puts typed stages over somebody else's at the second press, by the version that stands then", async () => {
  const plan = { ...whole, version: 4, stages: [], stage: { number: 1 } } as unknown as ReturnWhole;
  const here = place({}, "edit_clinical");
  await show(<EditStages place={here} whole={plan} />);
  await press("Add a stage");
  answers.push(new Problem(409, "The plan was changed meanwhile."));
  await submit();
  expect(text()).toContain("The plan was changed meanwhile.");
  await show(<EditStages place={here} whole={{ ...plan, version: 6 }} />);
  await submit();
  expect(sent.map((one) => one.body?.version)).toEqual([4, 6]);
  await act(async () => told.at(-1)?.undo?.());
  expect(sent.at(-1)?.body).toMatchObject({ stages: [], version: 7 });
});

it("lists sides, begins, says the plan, and takes an end back", async () => {
  const known = {
    ...side,
    check: "c",
    version: 3,
    asks: null,
    comes: "strength",
    how: "sets",
    sets: 2,
    retest_on: "2026-04-09",
    over: true,
  } as SideRow;
  list.rows = [side, { ...known, athlete_id: 8, name: "B. Calegar" }];
  await show(<SidesPanel place={place({}, "enter_reports")} />);
  await act(async () => vi.waitFor(() => expect(text()).toContain("A. Orrin")));
  expect(text()).toContain("The left side 20 % stronger, Sat 7 March");
  expect(text()).toContain("Plan: added sets on the weaker side (2); tested again on Thu 9 April.");
  expect(text()).toContain("Even again: within 10 %, or the own norm.");
  await press("Look into it");
  expect(sent.at(-1)).toEqual({
    path: "/api/squads/north/sides",
    body: { athlete_id: 7, test: "squat" },
  });
  await press("It is over");
  expect(sent.at(-1)).toEqual({ path: "/api/squads/north/sides/c/end", body: { ended: true } });
  await act(async () => told.at(-1)?.undo?.());
  expect(sent.at(-1)?.body).toEqual({ ended: false });
});

it("offers nothing to press to who only reads sides, and says where nobody differs", async () => {
  list.rows = [side];
  await show(<SidesPanel place={place({})} />);
  await act(async () => vi.waitFor(() => expect(text()).toContain("A. Orrin")));
  expect(button("Look into it")).toBeUndefined();
  list.rows = [];
  await show(<SidesPanel key="none" place={place({})} />);
  await act(async () => vi.waitFor(() => expect(text()).toContain("Of nobody three tests running")));
});
