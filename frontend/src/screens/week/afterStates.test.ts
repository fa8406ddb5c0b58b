import { expect, it } from "vitest";
import type { AfterRow } from "../../api/client";
import { afterGroups, positionsOf } from "./afterStates";

const row = (name: string, does: AfterRow["does"], position = "wing", form: AfterRow["form"] = "runs") =>
  ({ athlete_id: name.charCodeAt(0), name, does, position, form }) as AfterRow;

it("says who tops up first, and leaves groups without anybody out", () => {
  const found = afterGroups([
    row("A", "nothing"),
    row("B", "recover"),
    row("C", "top_up"),
    row("D", "top_up"),
  ]);
  expect(found.map((group) => [group.title, group.rows.map((one) => one.name)])).toEqual([
    ["Top up", ["C", "D"]],
    ["Recover", ["B"]],
    ["Neither", ["A"]],
  ]);
});

it("knows which positions work in place", () => {
  const rows = [row("A", "top_up"), row("B", "recover", "keeper", "in_place"), row("C", "rest", "")];
  expect(positionsOf(rows)).toEqual({ all: ["keeper", "wing"], inPlace: ["keeper"] });
});
