// @vitest-environment jsdom

import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode } from "react";
import { MemoryRouter } from "react-router";
import { beforeEach, expect, it, vi } from "vitest";
import { Problem } from "../../api/client";
import type { Place } from "../../frame/place";
import { box, button, show as draw, press, put, submit, text } from "../../testing";
import { system } from "../../theme/system";
import { LighterWeeks } from "./LighterWeeks";
import TemplatesScreen from "./TemplatesScreen";
import { Upkeep } from "./Upkeep";

interface Asked {
  params: { path: Record<string, string>; query?: Record<string, unknown> };
  body?: Record<string, unknown>;
}

const { sent, given, told, ask } = vi.hoisted(() => {
  const sent: { path: string; what: Record<string, unknown> }[] = [];
  /** What a path answers, the last that was said. */
  const given = new Map<string, unknown>();
  const told: { said: string; undo?: () => void }[] = [];
  const ask = async (path: string, { params, body }: Asked) => {
    const full = path.replace(/{(\w+)}/g, (_, name) => params.path[name] ?? "");
    sent.push({ path: full, what: body ?? params.query ?? {} });
    const answer = given.get(full.replace("/api/squads/north/", ""));
    if (answer instanceof Error) throw answer;
    return answer ?? { done: true };
  };
  return { sent, given, told, ask };
});

vi.mock("../../frame/toast", () => ({
  useToast: () => (said: string, undo?: () => void) => told.push({ said, ...(undo && { undo }) }),
}));
vi.mock("../../api/client", async (original) => ({
  ...(await original<object>()),
  api: { GET: ask, POST: ask, PUT: ask, DELETE: ask },
  ask: (answer: unknown) => answer,
}));

const set = vi.fn();

const place = (address: Record<string, string> = {}, ...may: string[]) =>
  ({
    squad: { slug: "north", name: "North", today: "2026-03-12" },
    day: "2026-03-12",
    may: (action: string) => may.includes(action),
    get: (name: string) => address[name] ?? null,
    to: (path: string) => path,
    set,
  }) as unknown as Place;

beforeEach(() => {
  for (const list of [sent, told]) list.length = 0;
  given.clear();
  given.set("week", { rows: [{ athlete_id: 7, name: "A. Berg" }] });
  set.mockClear();
});

async function show(children: ReactNode) {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  await draw(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <MemoryRouter>{children}</MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>,
  );
  await settled();
}

/** What was asked for has come, and what that asks for. */
const settled = () =>
  act(async () => {
    for (let i = 0; i < 5; i++) await new Promise((done) => setTimeout(done, 0));
  });

/** The field whose label has these words. */
function field(label: string) {
  const found = [...box.querySelectorAll("label")].find((one) => one.textContent?.startsWith(label));
  const named = box.querySelector(`[aria-label="${label}"]`);
  return (named ?? document.getElementById(found?.htmlFor ?? "")) as HTMLInputElement;
}

const last = (path: string) => sent.findLast((one) => one.path.endsWith(path))?.what;

const session = { day: 0, at: "18:00", kind: "gym", title: "Gym", minutes: 60, effort: 6 };
const written = { years_least: 2, years_most: null, sport: "handball", sport_days: null, longest: null };
const template = {
  id: "t1",
  name: "Two days",
  squad: "North",
  own: true,
  written,
  weeks: 1,
  sessions: [session],
};
const fit = {
  name: "Two days",
  whom: "North",
  first: "2026-03-16",
  differs: [],
  sessions: [session],
  there: 0,
};
const templates = (...list: object[]) => given.set("week/templates", { sport: "handball", templates: list });

it("has no templates at first, and asks for the weeks that are to be one", async () => {
  templates();
  await show(<TemplatesScreen place={place({}, "plan")} />);
  expect(text()).toContain("No template is kept yet");
  await submit();
  expect(text()).toContain("A name, so that it is found again.");
  expect(sent.filter((one) => one.what.name !== undefined)).toEqual([]);
  await put(field("Name"), "Two days");
  await put(field("Years of training, least"), "0,5");
  given.set("week/templates", { sport: "handball", templates: [template] });
  await submit();
  expect(last("/week/templates")).toBeDefined();
  const kept = sent.find((one) => one.what.name === "Two days")?.what;
  expect(kept).toMatchObject({ of: "2026-03-12", weeks: 1, kinds: ["gym"], years_least: 0.5, longest: null });
  expect(kept?.sport).toBe("handball");
  expect(told[0]?.said).toBe("Two days is kept.");
  expect(set).toHaveBeenCalledWith({ keep: null, template: "t1" });
});

it("is for those who plan", async () => {
  await show(<TemplatesScreen place={place()} />);
  expect(text()).toContain("kept by performance staff and coaches");
  expect(sent).toEqual([]);
});

it("says of a template for whom it was written, and whose it is", async () => {
  templates(template, { ...template, id: "t2", name: "Camp", squad: "South", own: false });
  await show(<TemplatesScreen place={place({}, "plan")} />);
  expect(text()).toContain("2 templates");
  expect(text()).toContain("For 2 years of training or more, handball");
  expect(text()).toContain("Camp from South");
  await press("Camp");
  expect(set).toHaveBeenCalledWith({ template: "t2", keep: null });
});

it("says what differs before it is planned, and sends what was seen", async () => {
  templates(template);
  given.set("week/templates/t1/fit", { ...fit, differs: ["Written for handball; this is judo."] });
  given.set("week/templates/t1/use", { made: ["s1", "s2"] });
  await show(<TemplatesScreen place={place({ template: "t1" }, "plan")} />);
  expect(text()).toContain("Not as written, for North");
  expect(text()).toContain("Written for handball; this is judo.");
  expect(text()).toContain("Gym 18:00, 60 min at 6");
  await put(field("For whom"), "7");
  await put(field("Their sport"), "judo");
  await settled();
  expect(last("/fit")).toEqual({ first: "2026-03-19", athlete_id: 7, sport: "judo" });
  await press("Plan it nevertheless");
  await settled();
  expect(last("/use")).toMatchObject({ athlete_id: 7, differs: ["Written for handball; this is judo."] });
  expect(told[0]?.said).toBe("2 sessions are planned.");
  await act(async () => told[0]?.undo?.());
  await settled();
  expect(last("/take-back")).toEqual({ made: ["s1", "s2"] });
});

it("plans nothing where all of it stands, and says a wrong week at its field", async () => {
  templates(template);
  given.set("week/templates/t1/fit", { ...fit, there: 1 });
  await show(<TemplatesScreen place={place({ template: "t1" }, "plan")} />);
  expect(text()).toContain("As written, for North");
  expect(button("All of it is planned").disabled).toBe(true);
  const errors = [{ field: "first", detail: "It begins this week or later." }];
  given.set("week/templates/t1/fit", new Problem(422, "No.", { errors }));
  await put(field("From the week of"), "2026-01-01");
  await settled();
  expect(text()).toContain("It begins this week or later.");
  expect(text()).not.toContain("All of it is planned");
  given.set("week/templates/t1/fit", fit);
  await put(field("From the week of"), "2026-03-30");
  await settled();
  expect(button("Plan it")).toBeDefined();
  // Without a day there is nothing to plan, whatever stood there before.
  await put(field("From the week of"), "");
  expect(text()).toContain("A day of the first week.");
  expect(button("Plan it")).toBeUndefined();
});

it("is taken away and put back; another squad's is not", async () => {
  templates(template, { ...template, id: "t2", own: false });
  given.set("week/templates/t1/fit", fit);
  given.set("week/templates/t2/fit", fit);
  await show(<TemplatesScreen place={place({ template: "t1" }, "plan")} />);
  await press("Take this template away");
  await settled();
  expect(sent.some((one) => one.path.endsWith("/week/templates/t1"))).toBe(true);
  expect(told[0]?.said).toBe("Two days is taken away.");
  await act(async () => told[0]?.undo?.());
  expect(sent.some((one) => one.path.endsWith("/t1/put-back"))).toBe(true);
  await show(<TemplatesScreen place={place({ template: "t2" }, "plan")} />);
  expect(button("Take this template away")).toBeUndefined();
});

it("says who has work too often and who is short, and nothing where that is nobody", async () => {
  given.set("week/upkeep", { short: [], days_said: "", often: [] });
  await show(<Upkeep place={place()} />);
  expect(text()).toBe("");
  const often = {
    athlete_id: 7,
    name: "A. Berg",
    leave_out: ["2026-03-14"],
    said: "6 days planned, room for 4",
  };
  given.set("week/upkeep", { short: [], days_said: "", often: [often] });
  await show(<Upkeep key="row" place={place()} />);
  expect(text()).toContain("A. Berg6 days planned, room for 4");
  given.set("week/upkeep", {
    short: [{ athlete_id: 8, name: "C. Dahl", said: "Load 0 planned, 600 keep it" }],
    days_said: "Room for 4 days with work for 4.",
    often: [],
  });
  await show(<Upkeep key="short" place={place()} />);
  expect(text()).toContain("Room for 4 days with work for 4.");
  expect(text()).toContain("Short of what keeps them 1");
  expect(text()).toContain("C. DahlLoad 0 planned, 600 keep it");
});

it("plans a lighter week in fewer days where that is asked for", async () => {
  const due = { athlete_id: 7, name: "A. Berg", signs: "8 weeks", by_signs: true, last: "" };
  const line = {
    session_id: "s",
    title: "Gym",
    day: "2026-03-13",
    said: "60 min at 5 → 35 min at 5",
    lifts: [],
  };
  given.set("week/lighter", { due: [{ ...due, lines: [line] }], standing: [], back: [] });
  await show(<LighterWeeks place={place({}, "plan")} />);
  expect(last("/week/lighter")).toEqual({ day: "2026-03-12", school: "cut", fewer: false });
  const fewer = box.querySelector('input[type="checkbox"]') as HTMLInputElement;
  await act(async () => fewer.click());
  await settled();
  expect(last("/week/lighter")).toEqual({ day: "2026-03-12", school: "cut", fewer: true });
  await put(field("What is cut"), "share");
  await settled();
  given.set("week/lighter", { due: [{ ...due, lines: [line] }], standing: [], back: [], id: "w1" });
  await press("Plan it for A. Berg");
  expect(sent.find((one) => one.what.athlete_id === 7)?.what).toEqual({
    day: "2026-03-12",
    athlete_id: 7,
    school: "share",
    fewer: true,
  });
});
