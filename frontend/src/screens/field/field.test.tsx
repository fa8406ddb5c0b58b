// @vitest-environment jsdom

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Field, FieldEvent, FieldEventBody } from "../../api/client";
import type { Place } from "../../frame/place";
import { box, button, press, putInto, show } from "../../testing";
import { CallNow } from "./CallNow";
import { Counting } from "./Counting";
import { fold } from "./fold";
import { Groups } from "./Groups";
import { Keep } from "./Keep";
import { OnField } from "./OnField";
import { PartClock } from "./PartClock";
import { QuickWords } from "./QuickWords";
import { clock, noted, rulesOf, together } from "./useField";

const { kept } = vi.hoisted(() => ({
  kept: [] as { what: string; session?: string; body: Record<string, unknown> }[],
}));
vi.mock("../../frame/toast", () => ({ useToast: () => () => {} }));
vi.mock("../../offline/outbox", () => ({
  enqueue: async (item: (typeof kept)[number]) => kept.push(item),
  useOutbox: () => kept,
}));
vi.mock("./Spells", () => ({ Spells: () => null }));

const note = vi.fn();

beforeEach(() => {
  vi.useFakeTimers();
  note.mockClear();
  kept.length = 0;
});

afterEach(() => {
  vi.useRealTimers();
});

const row = (athlete_id: number, name: string, more: Partial<Field["rows"][number]> = {}) => ({
  athlete_id,
  name,
  number: athlete_id,
  position: "back",
  group: "full",
  how: "",
  room_minutes: 80,
  plan_minutes: 60,
  minimum_minutes: 18,
  spells: [],
  to_call: "",
  owed: "",
  called: null,
  ...more,
});

const field = (more: Partial<Field> = {}): Field => ({
  day: "2026-03-12",
  session: { id: "s", title: "Court", kind: "court", starts_at: "2026-03-12T17:00:00Z" },
  planned_minutes: 60,
  planned_effort: 5,
  offset: -2,
  sessions: [],
  parts: [
    { place: 0, name: "Warm-up", minutes: 12, weight: 1 },
    { place: 1, name: "Open play", minutes: 40, weight: 3 },
  ],
  events: [],
  spells: [],
  countables: [
    { code: "throw", name: "Full throw" },
    { code: "pass", name: "Pass" },
  ],
  places: { names: [], most: null },
  groups: [
    { code: "ask", name: "Ask staff first" },
    { code: "full", name: "Full" },
    { code: "out", name: "Not available" },
  ],
  rows: [row(1, "A"), row(2, "B")],
  ...more,
});

const event = (
  id: string,
  kind: FieldEventBody["kind"],
  second: number,
  more: Partial<FieldEventBody> = {},
) => ({
  id,
  kind,
  at: new Date(second * 1000).toISOString(),
  athlete_id: null,
  part: null,
  amount: 0,
  what: "",
  words: "",
  ...more,
});
const at = (events: FieldEventBody[]) => fold(events.map(noted));
const mayAll = { squad: { slug: "x" }, may: () => true, to: (path: string) => path } as unknown as Place;

it("puts what was noted here beside what the server knows, each once, and leaves out what was taken back", () => {
  const known = [{ ...event("b", "stop", 20), by: "S. Taff" }] as FieldEvent[];
  const found = together(
    known,
    [event("a", "begin", 10), event("b", "stop", 20), event("c", "note", 5)],
    ["c"],
  );
  expect(found.map((one) => one.id)).toEqual(["a", "b"]);
  expect(found[1]).toHaveProperty("by");
});

it("takes the rule of what is counted and of nothing else", () => {
  const spells = [{ what: "throw", most: 3, seconds: 600 }];
  const rules = rulesOf(field({ rows: [row(1, "A", { spells }), row(2, "B")] }), "throw");
  expect([...rules]).toEqual([[1, [3, 600]]]);
  expect(rulesOf(field({ rows: [row(1, "A", { spells })] }), "pass").size).toBe(0);
});

it("shows time to the second and none below nothing", () => {
  expect([clock(0), clock(59.6), clock(600), clock(-3)]).toEqual(["0:00", "1:00", "10:00", "0:00"]);
});

it("counts a tap, takes one back after a hold or a minus, and counts nothing after a hold is let go", async () => {
  const events = [event("a", "count", 0, { athlete_id: 1, amount: 2, what: "throw" })];
  await show(<Counting place={mayAll} field={field()} events={events} note={note} now={5} />);
  expect(box.textContent).toContain("2 in all");
  await press("A: count one");
  expect(note).toHaveBeenLastCalledWith("count", "A: one more.", { athlete: 1, amount: 1, what: "throw" });
  const tile = button("A: count one");
  const point = (kind: string) => act(async () => tile.dispatchEvent(new Event(kind, { bubbles: true })));
  await point("pointerdown");
  await act(async () => vi.advanceTimersByTime(600));
  await point("pointerup");
  await press("A: count one");
  expect(note).toHaveBeenLastCalledWith("count", "A: one taken back.", {
    athlete: 1,
    amount: -1,
    what: "throw",
  });
  expect(note).toHaveBeenCalledTimes(2);
  await act(async () => tile.dispatchEvent(new KeyboardEvent("keydown", { key: "-", bubbles: true })));
  expect(note).toHaveBeenCalledTimes(3);
});

it("runs the clock of a break, says what was over it, and begins anew after it", async () => {
  const spells = [{ what: "throw", most: 2, seconds: 120 }];
  const of = field({ rows: [row(1, "A", { spells })] });
  const events = [
    event("a", "count", 0, { athlete_id: 1, amount: 2, what: "throw" }),
    event("b", "count", 10, { athlete_id: 1, amount: 1, what: "throw" }),
  ];
  const shown = (now: number) =>
    show(<Counting place={mayAll} field={of} events={events} note={note} now={now} />);
  await shown(30);
  expect(box.textContent).toContain("on a break, 1 over");
  expect(button("A: count one").textContent).toBe("1:30");
  await shown(121);
  expect(box.textContent).toContain("0 of 2, break in 2");
});

it("keeps passes apart from throws", async () => {
  const spells = [{ what: "throw", most: 2, seconds: 120 }];
  const of = field({ rows: [row(1, "A", { spells })] });
  const events = [event("a", "count", 0, { athlete_id: 1, amount: 9, what: "pass" })];
  await show(<Counting place={mayAll} field={of} events={events} note={note} now={1} />);
  // Nobody has thrown yet; nine passes begin no break.
  expect(box.textContent).not.toContain("break in");
  await putInto("What is counted", "pass");
  expect(box.textContent).toContain("9 in all");
});

it("starts what comes next, stops what runs, and says when a part is over its time", async () => {
  const running = [event("a", "begin", 0, { part: 0 })];
  await show(<PartClock place={mayAll} field={field()} stands={at(running)} note={note} now={60} />);
  expect(box.querySelector("[role=timer]")?.textContent).toBe("11:00 left");
  await press("Start open play");
  expect(note).toHaveBeenLastCalledWith("begin", "Open play has begun.", { part: 1 });
  await press("Stop");
  expect(note).toHaveBeenLastCalledWith("stop", "Warm-up is stopped.");
  await show(<PartClock place={mayAll} field={field()} stands={at(running)} note={note} now={780} />);
  expect(box.querySelector("[role=timer]")?.textContent).toBe("1:00 over");
  await show(
    <MemoryRouter>
      <PartClock place={mayAll} field={field({ parts: [] })} stands={at([])} note={note} now={0} />
    </MemoryRouter>,
  );
  expect(box.textContent).toContain("no parts");
});

it("calls one at a time with what each answer leaves, and keeps the call for the network", async () => {
  const rows = [
    row(1, "A", { to_call: "slept badly", owed: "Still owed this week: 90 of load." }),
    row(2, "B", { to_call: "asked", room_minutes: null }),
  ];
  await show(<CallNow place={mayAll} field={field({ rows })} />);
  expect(box.textContent).toContain("Room for 80 min. Slept badly. Still owed this week: 90 of load.");
  expect(button("Minimum").textContent).toContain("18 min");
  await press("Minimum");
  expect(kept[0]?.body).toMatchObject({
    athlete_id: 1,
    kind: "minimum",
    reason: "After warm-up: slept badly",
  });
  expect(box.textContent).toContain("No figure for room. Asked.");
  await press("Leave it");
  expect(kept[1]?.body).toMatchObject({ athlete_id: 2, kind: "rest" });
  expect(box.textContent).toBe("");
});

it("lets nobody call who may not", async () => {
  const rows = [row(1, "A", { to_call: "slept badly" })];
  await show(<CallNow place={{ ...mayAll, may: () => false } as unknown as Place} field={field({ rows })} />);
  expect(box.textContent).toContain("Performance staff say.");
  expect(box.querySelector("button")).toBeNull();
});

it("offers who is to be asked first no minutes, names who has no room for all of it, and lets somebody out", async () => {
  const rows = [
    row(1, "A", { group: "ask" }),
    row(2, "B", { room_minutes: 20 }),
    row(3, "C"),
    row(4, "D", { group: "out", how: "knee" }),
  ];
  await show(<Groups field={field({ rows })} stands={at([])} note={note} now={0} />);
  const line = (name: string) =>
    [...box.querySelectorAll(".field-row")].find((one) => one.textContent?.includes(name));
  expect(line("A")?.textContent).toContain("ask first");
  expect(line("A")?.textContent).not.toContain("min");
  expect(box.textContent).toContain("no room for all of it: B");
  expect(line("D")?.textContent).toContain("0 min");
  await press("one by one");
  expect(line("B")?.textContent).toContain("20 min");
  expect(line("B")?.textContent).toContain("plan 60");
  await press("B");
  await press("Out now");
  expect(note).toHaveBeenLastCalledWith("leave", "B has left.", { athlete: 2 });
  const left = at([event("a", "begin", 0, { part: 0 }), event("b", "leave", 30, { athlete_id: 2 })]);
  await show(<Groups field={field({ rows })} stands={left} note={note} now={600} />);
  expect(line("B")?.textContent).toContain("has left");
});

it("does not say that there is room where none is known", async () => {
  const group = (...rooms: (number | null)[]) => {
    const rows = rooms.map((room_minutes, i) => row(i, "ABC"[i] ?? "", { room_minutes }));
    return show(<Groups field={field({ rows })} stands={at([])} note={note} now={0} />);
  };
  const said = () => box.querySelector(".field-row p")?.firstChild?.textContent;
  await group(null, null);
  expect(said()).toBe("room is not known yet: too little history");
  await group(80, null);
  expect(said()).toBe("room; not known yet of B");
  await group(80, 20, null);
  expect(said()).toBe("no room for all of it: B; not known yet of C");
  await group(80, 80);
  expect(said()).toBe("all have room");
});

it("sends on who takes a place and off who leaves it", async () => {
  const of = field({ session: { ...field().session, kind: "match" }, rows: [row(1, "A"), row(2, "B")] });
  const on = [event("a", "on", 0, { athlete_id: 1, words: "keeper" })];
  await show(<OnField field={of} stands={at(on)} note={note} now={90} />);
  expect(box.textContent).toContain("A 1:30");
  await putInto("Who is on: keeper", "2");
  expect(note).toHaveBeenLastCalledWith("on", "B is on: keeper.", { athlete: 2, words: "keeper" });
  await putInto("Who is on: keeper", "");
  expect(note).toHaveBeenLastCalledWith("off", "A is off.", { athlete: 1 });
  await putInto("A place on the field", "pivot");
  await press("Add a place");
  expect(box.querySelector('[aria-label="Who is on: pivot"]')).not.toBeNull();
});

it("has the places of the match before, and asks where more are on than there", async () => {
  const match = { ...field().session, kind: "match" as const };
  const of = field({ session: match, places: { names: ["keeper", "pivot"], most: 1 } });
  const first = event("a", "on", 0, { athlete_id: 1, words: "keeper" });
  await show(<OnField field={of} stands={at([first])} note={note} now={90} />);
  expect(box.querySelector("h2")?.textContent).toContain("On the field: 1");
  expect(box.querySelectorAll("select")).toHaveLength(2);
  expect(box.querySelector('[role="alert"]')).toBeNull();
  const second = event("b", "on", 5, { athlete_id: 2, words: "pivot" });
  await show(<OnField field={of} stands={at([first, second])} note={note} now={90} />);
  expect(box.querySelector('[role="alert"]')?.textContent).toContain(
    "2 are on; in the match before it was 1 at most",
  );
});

it("notes ready words about somebody, and takes a note back", async () => {
  const takeBack = vi.fn();
  const events = [event("n", "note", 0, { words: "wind", athlete_id: 2 })];
  await show(<QuickWords field={field()} events={events} note={note} takeBack={takeBack} />);
  await putInto("About whom", "1");
  await press("looks tired");
  expect(note).toHaveBeenLastCalledWith("note", "Noted.", { athlete: 1, words: "looks tired" });
  await press("Note");
  // Nothing typed is no note.
  expect(note).toHaveBeenCalledTimes(1);
  await press("take back");
  expect(takeBack).toHaveBeenCalledWith("n");
});

it("keeps a session once everything noted here has arrived", async () => {
  const shown = () =>
    show(
      <QueryClientProvider client={new QueryClient()}>
        <Keep place={mayAll} field={field()} />
      </QueryClientProvider>,
    );
  kept.push({ what: "field", session: "s", body: {} });
  await shown();
  expect(button("not arrived").disabled).toBe(true);
  kept[0] = { what: "field", session: "another", body: {} };
  await shown();
  expect(button("Keep the session").disabled).toBe(false);
});
