// @vitest-environment jsdom

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { expect, it, vi } from "vitest";
import type { Drill } from "../../../api/client";
import { mixQuery } from "../../../api/queries/session";
import { box, button, putInto, show } from "../../../testing";
import { DrillList } from "./DrillList";
import { told } from "./DrillRow";
import { PartLines } from "./PartLines";
import {
  again,
  aimOf,
  aimTyped,
  gradesOf,
  linesOf,
  moved,
  partsOf,
  sumSaid,
  withDrill,
  withGrades,
  wrongWith,
} from "./partsPlan";
import { RoundsMix } from "./RoundsMix";

const lines = () => [...box.querySelectorAll("tbody th")].map((one) => one.textContent);

const drill = (name: string, more: Partial<Drill> = {}): Drill => ({
  name,
  times: 3,
  last: "2026-03-10",
  minutes: 20,
  weight: 3,
  effort: 6.25,
  rated: 3,
  running: { people: 12, metres: 84.4, fast: 2.54 },
  positions: {},
  counts: [],
  like: 0.66,
  ...more,
});

it("finds a drill by its words, shows those of the session, and says where there is none", async () => {
  const names = ["Waves", "Open play", "Passing", "Three against three", "Finishing", "Circuit"];
  await show(<DrillList drills={names.map((name) => drill(name))} here={["Open play"]} />);
  expect(lines()).toEqual(names);
  expect(box.querySelector("tbody b")?.textContent).toBe("Open play");
  await putInto("Find a drill", " AGAINST three");
  expect(lines()).toEqual(["Three against three"]);
  await putInto("Find a drill", "swim");
  expect(box.textContent).toContain("No drill is called so.");
});

it("tells what a minute comes to beside a match, and hands a drill on", async () => {
  const put = vi.fn();
  const none = drill("Talk", { effort: null, running: null, like: null });
  await show(
    <DrillList
      drills={[drill("Waves"), none]}
      match={{ people: 40, metres: 101.2, fast: 6.4 }}
      onPut={put}
    />,
  );
  const cells = [...box.querySelectorAll("tbody tr")].map((row) =>
    [...row.querySelectorAll("td")].map((one) => one.textContent),
  );
  expect(cells[0]?.slice(0, 3)).toEqual(["", "101", "6.4"]);
  expect(cells[1]?.slice(0, 4)).toEqual(["6.3", "84", "2.5", "66"]);
  expect(cells[2]?.slice(0, 4)).toEqual(["–", "–", "–", "–"]);
  await act(async () => button("Put in Waves").click());
  expect(put).toHaveBeenCalledWith(drill("Waves"));
});

it("opens to how often, of how many, by position and what was counted", async () => {
  const one = drill("Waves", {
    times: 1,
    positions: { wing: { people: 3, metres: 99.6, fast: 5.25 } },
    counts: [{ what: "throw", a_minute: 0.5 }],
  });
  await show(<DrillList drills={[one]} />);
  await act(async () => button("Waves").click());
  expect(box.querySelector(".drill-more")?.textContent).toContain("Done once, last on");
  expect(told(one)).toContain("wing (3): 100 m, 5.3 fast a minute");
  expect(told(one)).toContain("Counted, a minute and person: throw 0.5.");
  expect(told(drill("x", { effort: null, running: null }))).toEqual([
    "Done 3 times, last on Tue 10 March; 20 min as a rule.",
    "No session with it was rated.",
    "No pod has recorded it.",
  ]);
});

const parts = linesOf([
  { name: "Warm-up", minutes: 12, weight: 1, grade: null },
  { name: "Waves", minutes: 20.5, weight: 3, grade: 4 },
]);

it("sends parts as they are typed, and says how much of the plan they are", () => {
  expect(partsOf(parts)).toEqual([
    { name: "Warm-up", minutes: 12, weight: 1, grade: null },
    { name: "Waves", minutes: 20.5, weight: 3, grade: 4 },
  ]);
  expect(sumSaid(parts, 60)).toBe("32.5 of 60 min planned: 27.5 min are left.");
  expect(sumSaid(parts, 30)).toBe("32.5 of 30 min planned: 2.5 min more than the session has.");
  expect(sumSaid(parts, 32.5)).toBe("32.5 of 32.5 min planned.");
});

it("says what is wrong with a part", () => {
  const with_ = (more: object) => [
    ...parts,
    { key: "n", name: "End", minutes: "5", weight: "1", grade: "", ...more },
  ];
  expect(wrongWith(with_({}), 2)).toBeNull();
  expect(wrongWith(with_({ minutes: "7,5" }), 2)).toBeNull();
  expect(wrongWith(with_({ name: " " }), 2)).toEqual({ at: "name", said: "A part has a name." });
  expect(wrongWith(with_({ name: "waves " }), 2)).toEqual({
    at: "name",
    said: "Two parts of a session have two names.",
  });
  for (const minutes of ["", "x", "0", "601"])
    expect(wrongWith(with_({ minutes }), 2)).toEqual({
      at: "minutes",
      said: "More than 0 and at most 600 minutes.",
    });
});

it("puts a drill in with what it has as a rule, once more under another name", () => {
  const [, , third] = withDrill(parts, drill("Waves", { minutes: 18, weight: 2.5 }), "n");
  expect(third).toEqual({ key: "n", name: "Waves 2", minutes: "18", weight: "3", grade: "" });
  expect(moved(parts, 1, -1).map((one) => one.name)).toEqual(["Waves", "Warm-up"]);
  expect(moved(parts, 1, 1)).toBe(parts);
});

it("fills in the usual minutes of a drill that is named, and takes a part out", async () => {
  const change = vi.fn();
  const empty = [{ key: "n", name: "", minutes: "", weight: "2", grade: "" }];
  await show(<PartLines lines={empty} said names={[drill("Waves")]} onChange={change} />);
  expect(box.textContent).toContain("A part has a name.");
  await putInto("Name of part 1", "Waves");
  expect(change).toHaveBeenLastCalledWith([
    { key: "n", name: "Waves", minutes: "20", weight: "3", grade: "" },
  ]);
  await act(async () => button("Take part 1 out").click());
  expect(change).toHaveBeenLastCalledWith([]);
  await show(<PartLines lines={[]} said={false} names={[]} onChange={change} />);
  expect(box.textContent).toBe("This session has no parts yet.");
});

it("gives the caret to a part that is added by hand, and marks the field that is wrong", async () => {
  const lines = [
    ...parts.slice(0, 1),
    { key: "typed 0", name: "", minutes: "", weight: "2", grade: "" },
    { key: "put 1", name: "Waves", minutes: "0", weight: "3", grade: "" },
  ];
  await show(<PartLines lines={lines} said names={[]} onChange={vi.fn()} />);
  expect(document.activeElement?.getAttribute("aria-label")).toBe("Name of part 2");
  const wrong = [...box.querySelectorAll('[aria-invalid="true"]')].map((one) =>
    one.getAttribute("aria-label"),
  );
  expect(wrong).toEqual(["Name of part 2", "Minutes of Waves"]);
});

it("has a part once more under the next name, and takes other grades over by their place", () => {
  const rounds = linesOf([
    { name: "Warm-up", minutes: 10, weight: 1, grade: null },
    { name: "Round 1", minutes: 5, weight: 3, grade: 3 },
    { name: "Round 2", minutes: 5, weight: 3, grade: 5 },
  ]);
  const more = again(rounds, 1, "n");
  expect(more.map((one) => [one.name, one.grade])).toEqual([
    ["Warm-up", ""],
    ["Round 1", "3"],
    ["Round 3", "3"],
    ["Round 2", "5"],
  ]);
  expect(new Set(more.map((one) => one.key)).size).toBe(4);
  expect(again([{ ...rounds[0], name: " " } as (typeof rounds)[number]], 0, "n")).toHaveLength(1);
  expect(gradesOf(more)).toEqual([3, 3, 5]);
  expect(withGrades(more, [4, 1, 5]).map((one) => one.grade)).toEqual(["", "4", "1", "5"]);
});

it("reads an aim in per cent, and writes it so", () => {
  const typed = ["70", "57,5", "", "19", "101", "x"];
  expect(typed.map(aimOf)).toEqual([0.7, 0.575, undefined, undefined, undefined, undefined]);
  expect([aimTyped(0.7), aimTyped(0.575)]).toEqual(["70", "57.5"]);
});

it("says how hard rounds are in all, and lets them be as near to the aim as they can", async () => {
  const mix = { share: 0.6, aim: 0.7, nearest: [3, 5, 4], said: "3 rounds at 73 %." };
  const queries = new QueryClient();
  queries.setQueryData(mixQuery("squad", [3, 4, 4], 0.7).queryKey, mix);
  const change = vi.fn();
  const rounds = linesOf([3, 4, 4].map((grade, i) => ({ name: `Round ${i}`, minutes: 5, weight: 3, grade })));
  const props = { slug: "squad", lines: rounds, onAim: vi.fn(), onChange: change };
  const drawn = (more: Partial<typeof props>, aim: string) =>
    show(
      <QueryClientProvider client={queries}>
        <RoundsMix {...props} {...more} aim={aim} />
      </QueryClientProvider>,
    );
  await drawn({}, "70");
  expect(box.textContent).toContain("3 rounds at 73 %.");
  await act(async () => button("Let them be 3, 5, 4").click());
  expect(change.mock.calls[0]?.[0].map((one: { grade: string }) => one.grade)).toEqual(["3", "5", "4"]);
  await drawn({}, "7");
  expect(box.textContent).toContain("An aim is 20 to 100 %.");
  await drawn({ lines: linesOf([]) }, "70");
  expect(box.textContent).toContain("Grade the parts that are rounds");
});
