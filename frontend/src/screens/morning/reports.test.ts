// @vitest-environment jsdom

import { describe, expect, it } from "vitest";
import type { ReportRow } from "../../api/client";
import { inOrder, reminderForAll, trainingText } from "./reports";

const row = (name: string, changes: Partial<ReportRow> = {}): ReportRow => ({
  athlete_id: name.length,
  name,
  number: 1,
  position: "back",
  state: "in",
  availability: null,
  stands: "plan",
  said: "",
  daily: null,
  weekly: null,
  missing_since: null,
  week_of: null,
  unrated: [],
  reminder: null,
  rivals: 0,
  ...changes,
});
const session = { id: "S", said: "strength" } as unknown as ReportRow["unrated"][number];
const names = (rows: ReportRow[]) => inOrder(rows).map((one) => one.name);

describe("reports of a morning", () => {
  it("begin with who is missing, then who has sessions without a rating, then by name", () => {
    const rows = [
      row("D"),
      row("B", { state: "missing" }),
      row("C", { unrated: [session] }),
      row("A"),
      row("E", { state: "missing", unrated: [session] }),
    ];
    expect(names(rows)).toEqual(["B", "E", "C", "A", "D"]);
    expect(rows[0]?.name).toBe("D");
  });

  it("begin, for those who do not see them, with who does not train fully", () => {
    const hidden = { state: "hidden" as const };
    const rows = [row("A", hidden), row("B", { ...hidden, stands: "part" }), row("C", hidden)];
    expect(names(rows)).toEqual(["B", "A", "C"]);
  });

  it("are asked for of those who are missing, and of nobody else", () => {
    const text = reminderForAll([row("A", { state: "missing" }), row("B"), row("C", { state: "missing" })]);
    expect(text).toContain("A, C.");
    expect(text).not.toContain("B");
    expect(text).toContain(window.location.origin);
  });
});

describe("how somebody trains on the day", () => {
  it("is said with what is to change, and with whom to ask", () => {
    expect(trainingText(row("A"))).toBe("trains fully");
    expect(trainingText(row("A", { stands: "part", said: "no duels" }))).toBe("trains in part: no duels");
    expect(trainingText(row("A", { stands: "out", said: "does not train" }))).toBe("does not train");
    expect(trainingText(row("A", { stands: "wait", said: "ask staff first" }))).toBe(
      "does not train: ask staff first",
    );
    expect(trainingText(row("A", { stands: "ask", said: "ask staff first" }))).toBe("ask staff first");
  });
});
