// @vitest-environment jsdom

import { act } from "react";
import { expect, it, vi } from "vitest";
import type { Drill } from "../../../api/client";
import { box, button, putInto, show } from "../../../testing";
import { DrillList } from "./DrillList";
import { told } from "./DrillRow";
import { PartLines } from "./PartLines";
import { linesOf, moved, partsOf, sumSaid, withDrill, wrongWith } from "./partsPlan";

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
  { name: "Warm-up", minutes: 12, weight: 1 },
  { name: "Waves", minutes: 20.5, weight: 3 },
]);

it("sends parts as they are typed, and says how much of the plan they are", () => {
  expect(partsOf(parts)).toEqual([
    { name: "Warm-up", minutes: 12, weight: 1 },
    { name: "Waves", minutes: 20.5, weight: 3 },
  ]);
  expect(sumSaid(parts, 60)).toBe("32.5 of 60 min planned: 27.5 min are left.");
  expect(sumSaid(parts, 30)).toBe("32.5 of 30 min planned: 2.5 min more than the session has.");
  expect(sumSaid(parts, 32.5)).toBe("32.5 of 32.5 min planned.");
});

it("says what is wrong with a part", () => {
  const with_ = (more: object) => [...parts, { key: "n", name: "End", minutes: "5", weight: "1", ...more }];
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
  expect(third).toEqual({ key: "n", name: "Waves 2", minutes: "18", weight: "3" });
  expect(moved(parts, 1, -1).map((one) => one.name)).toEqual(["Waves", "Warm-up"]);
  expect(moved(parts, 1, 1)).toBe(parts);
});

it("fills in the usual minutes of a drill that is named, and takes a part out", async () => {
  const change = vi.fn();
  const empty = [{ key: "n", name: "", minutes: "", weight: "2" }];
  await show(<PartLines lines={empty} said names={[drill("Waves")]} onChange={change} />);
  expect(box.textContent).toContain("A part has a name.");
  await putInto("Name of part 1", "Waves");
  expect(change).toHaveBeenLastCalledWith([{ key: "n", name: "Waves", minutes: "20", weight: "3" }]);
  await act(async () => button("Take part 1 out").click());
  expect(change).toHaveBeenLastCalledWith([]);
  await show(<PartLines lines={[]} said={false} names={[]} onChange={change} />);
  expect(box.textContent).toBe("This session has no parts yet.");
});

it("gives the caret to a part that is added by hand, and marks the field that is wrong", async () => {
  const lines = [
    ...parts.slice(0, 1),
    { key: "typed 0", name: "", minutes: "", weight: "2" },
    { key: "put 1", name: "Waves", minutes: "0", weight: "3" },
  ];
  await show(<PartLines lines={lines} said names={[]} onChange={vi.fn()} />);
  expect(document.activeElement?.getAttribute("aria-label")).toBe("Name of part 2");
  const wrong = [...box.querySelectorAll('[aria-invalid="true"]')].map((one) =>
    one.getAttribute("aria-label"),
  );
  expect(wrong).toEqual(["Name of part 2", "Minutes of Waves"]);
});
