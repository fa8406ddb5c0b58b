// @vitest-environment jsdom

import { act } from "react";
import { expect, it, vi } from "vitest";
import type { Heat } from "../../../api/client";
import type { Place } from "../../../frame/place";
import { box, show } from "../../../testing";
import { HeatTable } from "./HeatTable";
import { type Cell, orderOf, pressed, shownBy, sorted, step, zSaid } from "./heat";

const cell = (amount: number | null, percent: number | null, z: number | null, estimated = false): Cell => ({
  amount,
  percent,
  z,
  estimated,
});

const row = (name: string, session: Cell[] | null, week: Cell[]) => ({
  athlete_id: name.charCodeAt(0),
  name,
  number: null,
  position: "wing",
  session,
  week,
});

const heat: Heat = {
  session: { id: "s", day: "2026-03-11", title: "Court", opponent: null },
  figures: [
    { code: "main", name: "Load", unit: "AU", mark: "", peaks: false },
    { code: "sprint", name: "Sprint", unit: "m", mark: "fork", peaks: true },
  ],
  rows: [
    row("A", [cell(300, 62.5, 0.4), cell(90, 30, -2.2)], [cell(1800, 375, 1.2), cell(null, null, null)]),
    row("B", null, [cell(900, 190, -1), cell(40, 14, 0)]),
    row("C", [cell(420, 88, 2.4, true), cell(200, 70, null)], [cell(2400, 500, -0.04), cell(80, 28, 3)]),
  ],
};

it("sorts by a column, the most first, then the least, and whoever has no figure last", () => {
  const names = (said: string | null, by: "percent" | "z" | "amount" = "percent") =>
    sorted(heat.rows, orderOf(said, ["main", "sprint"]), by)
      .map((one) => one.name)
      .join("");
  expect(names(null)).toBe("ABC");
  expect(names("session.main")).toBe("CAB");
  expect(names("-session.main")).toBe("ACB");
  expect(names("week.sprint")).toBe("CBA");
  expect(names("-week.main", "z")).toBe("BCA");
  expect(names("week.none")).toBe("ABC");
  expect(names("year.main")).toBe("ABC");
});

it("takes a press on a column round", () => {
  const codes = ["main", "sprint"];
  expect(pressed(null, "week", 1, "sprint")).toBe("week.sprint");
  expect(pressed(orderOf("week.sprint", codes), "week", 1, "sprint")).toBe("-week.sprint");
  expect(pressed(orderOf("-week.sprint", codes), "week", 1, "sprint")).toBeNull();
  expect(pressed(orderOf("-week.sprint", codes), "session", 1, "sprint")).toBe("session.sprint");
});

it("shows what was measured where no match has any of it", () => {
  const none = [row("A", [cell(300, null, 0)], [cell(300, 60, 0)])];
  expect(shownBy(none, "session", 0, "percent")).toBe("amount");
  expect(shownBy(none, "week", 0, "z")).toBe("percent");
  expect(shownBy(none, "week", 0, "amount")).toBe("amount");
});

it("tells steps and signs", () => {
  expect([null, 0.99, 1, 2.1, -1, -1.99, -2].map(step)).toEqual([0, 0, 1, 2, -1, -1, -2]);
  expect([null, 0.04, -0.04, 1.25, -2].map(zSaid)).toEqual(["", "0", "0", "+1.3", "−2.0"]);
});

it("shows everybody, who was not in it, and what is an estimate or not known", async () => {
  const set = vi.fn();
  const place = { get: () => "session.main", set } as unknown as Place;
  await show(<HeatTable place={place} heat={heat} by="percent" />);
  const lines = [...box.querySelectorAll("tbody tr")].map((one) => one.textContent);
  expect(lines).toEqual([
    "C wing≈88+2.470500028+3.0",
    "A wing63+0.430−2.2375+1.2–",
    "B wingnot in it190−1.0140",
  ]);
  expect(box.querySelector("[aria-sort]")?.getAttribute("aria-sort")).toBe("descending");
  expect([...box.querySelectorAll("td.heat-2")].map((one) => one.textContent)).toEqual(["≈88+2.4", "28+3.0"]);
  await act(async () => box.querySelectorAll("button")[3]?.click());
  expect(set).toHaveBeenCalledWith({ sort: "week.sprint" }, true);
});
