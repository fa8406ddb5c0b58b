// @vitest-environment jsdom

import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Live, LiveLane } from "../../api/client";
import { Ribbon } from "../../charts/Ribbon";
import type { Place } from "../../frame/place";
import { box, press, show } from "../../testing";
import { Grown } from "./Grown";
import { LiveParts } from "./LiveParts";
import { LiveSide } from "./LiveSide";
import { Resting } from "./Resting";
import { useLive } from "./useLive";

vi.mock("./Hubs", () => ({ Hubs: () => null }));

const note = vi.fn();

beforeEach(() => {
  note.mockClear();
});

afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

const lane = (name: string, more: Partial<LiveLane> = {}): LiveLane => ({
  athlete_id: name.charCodeAt(0),
  name,
  number: 1,
  position: "back",
  group: "full",
  height: 0,
  sentence: "",
  mark: "",
  share: 70,
  bpm: 140,
  seen_at: 100,
  fault: null,
  low: 60,
  high: 72,
  ribbon: [60, 65, 70],
  load: 100,
  error: 12,
  left: 250,
  minutes: 30,
  devices: ["S"],
  gone: false,
  ...more,
});

const live = (more: Partial<Live> = {}): Live => ({
  now: 1000,
  session: { id: "s", title: "Court", kind: "court", starts_at: "2026-03-12T17:00:00Z" },
  offset: -2,
  parts: [
    { place: 0, name: "Warm-up", minutes: 12, weight: 1, low: 54, high: 66 },
    { place: 1, name: "Open play", minutes: 40, weight: 3, low: 73, high: 85 },
  ],
  runs: [],
  lanes: [],
  words: [],
  said: "",
  ...more,
});

it("shows the aim of every part and the clock of the one that runs", async () => {
  await show(
    <LiveParts
      live={live({
        runs: [
          { part: 0, begin: 700, end: 900 },
          { part: 1, begin: 900, end: null },
        ],
      })}
    />,
  );
  const [warm, open] = [...box.querySelectorAll("li")];
  expect(warm?.textContent).toContain("12 min, done");
  expect(open?.textContent).toContain("38:20left of 40 min, aim 73–85 %");
  await show(<LiveParts live={live({ runs: [{ part: 1, begin: -2000, end: null }] })} />);
  expect(box.textContent).toContain("10:00over of 40 min");
  await show(<LiveParts live={live({ parts: [] })} />);
  expect(box.textContent).toContain("there is no aim");
});

it("says how long a signal has been away, with the last value and its time, and no share", async () => {
  const gone = lane("A", {
    height: 1,
    mark: "missing",
    fault: "missing",
    share: null,
    sentence: "no signal now",
  });
  await show(<Grown lane={gone} now={140} zone="Europe/Oslo" />);
  expect(box.textContent).toContain("no signal for 40 s");
  expect(box.textContent).toContain("last 140, 01:01:40");
  expect(box.querySelector('[aria-label="no value"]')).not.toBeNull();
  expect(box.textContent).not.toContain("%");
});

it("marks what is late or held as near, and room as an estimate that never is below nothing", async () => {
  await show(
    <Grown lane={lane("A", { fault: "late", left: -20, minutes: 0 })} now={100} zone="Europe/Oslo" />,
  );
  expect(box.textContent).toContain("≈70%");
  expect(box.textContent).toContain("140 a min, late");
  expect(box.textContent).toContain("≈0 left");
  await show(<Grown lane={lane("A", { load: null, left: null })} now={100} zone="Europe/Oslo" />);
  expect(box.textContent).toContain("no own relation of rating to heart rate yet");
  await show(<Grown lane={lane("A", { left: null })} now={100} zone="Europe/Oslo" />);
  expect(box.textContent).toContain("no figure for room");
});

it("keeps everybody in their place, also who has grown, has left or wears nothing", async () => {
  const lanes = [
    lane("A"),
    lane("B", { height: 2 }),
    lane("C", { share: null, sentence: "has left", gone: true }),
    lane("D", { share: null, sentence: "no sensor", devices: [], group: "return" }),
  ];
  await show(<Resting lanes={lanes} />);
  expect([...box.querySelectorAll("p")].map((one) => one.textContent)).toEqual([
    "A70 %",
    "B act, above",
    "Chas left",
    "Dno sensor",
  ]);
  expect([...box.querySelectorAll("h3")].map((one) => one.textContent)).toEqual(["Full 3", "Coming back 1"]);
});

it("gives a break, an end and a note by one tap, and says where the aim is from where somebody is", async () => {
  const grown = [lane("A", { height: 2, mark: "over" }), lane("B", { height: 1, mark: "under" })];
  const place = { squad: { time_zone: "Europe/Oslo" } } as Place;
  const two = lane("C", { devices: ["S-1", "S-2"], fault: "doubtful" });
  await show(<LiveSide place={place} live={live({ lanes: [...grown, two] })} grown={grown} note={note} />);
  expect(box.textContent).toContain("A back under 72 %");
  expect(box.textContent).toContain("B up to 60 %");
  expect(box.textContent).toContain("C wears two: S-1 and S-2");
  expect(box.textContent).toContain("C: in doubt");
  await press("Break 2:00");
  expect(note).toHaveBeenLastCalledWith("break", "A: a break of 2 min.", { athlete: 65, amount: 120 });
  await press("End session");
  expect(note).toHaveBeenLastCalledWith("leave", "A has left.", { athlete: 65 });
  await press("Note");
  await press("Keep");
  // Without a word there is nothing to note.
  expect(note).toHaveBeenCalledTimes(2);
});

it("breaks the ribbon where nothing was measured, and fills only what is above the aim", async () => {
  await show(<Ribbon shares={[60, null, 70, 75]} low={60} high={72} width={130} height={40} label="A" />);
  expect(box.querySelector(".ribbon-line")?.getAttribute("d")?.match(/M/g)).toHaveLength(2);
  expect(box.querySelector(".ribbon-over")?.getAttribute("clip-path")).toContain("above");
  expect(box.querySelector(".ribbon-dot")).not.toBeNull();
  await show(<Ribbon shares={[60, null]} low={null} high={null} width={130} height={40} label="A" />);
  expect(box.querySelector(".aim-now")).toBeNull();
  expect(box.querySelector(".ribbon-dot")).toBeNull();
});

class Source {
  static made: Source[] = [];
  static readonly CLOSED = 2;
  readyState = 1;
  onmessage: (event: { data: string }) => void = () => {};
  onerror: () => void = () => {};
  close = vi.fn();
  constructor(readonly path: string) {
    Source.made.push(this);
  }
}

it("keeps what it had while the connection is away, and opens it again after a refusal that it asks about", async () => {
  vi.useFakeTimers();
  vi.stubGlobal("EventSource", Source);
  vi.stubGlobal("fetch", async () => ({
    ok: false,
    json: async () => ({ detail: "Too many people watch." }),
  }));
  Source.made = [];
  let seen: ReturnType<typeof useLive> | undefined;
  const Watch = () => {
    seen = useLive("x", "s");
    return null;
  };
  await show(<Watch />);
  const first = Source.made[0];
  expect(first?.path).toBe("/api/squads/x/sessions/s/live/stream");
  await act(async () => first?.onmessage({ data: JSON.stringify(live({ said: "One." })) }));
  await act(async () => first?.onerror());
  // The browser tries again by itself.
  expect([seen?.live?.said, seen?.away !== null, Source.made.length]).toEqual(["One.", true, 1]);
  await act(async () => first?.onmessage({ data: JSON.stringify(live({ said: "Two." })) }));
  expect([seen?.live?.said, seen?.away]).toEqual(["Two.", null]);
  if (first) first.readyState = Source.CLOSED;
  await act(async () => first?.onerror());
  expect(seen?.refused).toBe("Too many people watch.");
  await act(async () => vi.advanceTimersByTimeAsync(5001));
  expect(Source.made).toHaveLength(2);
  await act(async () => Source.made[1]?.onmessage({ data: JSON.stringify(live({ said: "Three." })) }));
  expect([seen?.refused, seen?.live?.said]).toEqual(["", "Three."]);
});
