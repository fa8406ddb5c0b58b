// @vitest-environment jsdom

import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import type { Evidence, Timeline } from "../api/client";
import { colour } from "../theme/tokens";
import { ItemLine } from "./ItemLine";
import { LimitBar } from "./LimitBar";
import { type Felt, Profile, ProfileHead, STEP, sentence } from "./Profile";
import { RecoveryWindows } from "./RecoveryWindows";
import { TestSpark } from "./TestSpark";

function draw(node: Parameters<typeof renderToStaticMarkup>[0]) {
  const box = document.createElement("div");
  box.innerHTML = renderToStaticMarkup(node);
  return box;
}
const number = (of: Element | null | undefined, name: string) => Number(of?.getAttribute(name));

describe("a limit's bar", () => {
  const beyond = (box: Element) => box.querySelector(`rect[fill="${colour.madder}"]`);

  it("shows what is beyond a ceiling, up to the figure", () => {
    const box = draw(<LimitBar figure={0.28} value={0.25} />);
    const [within, over] = box.querySelectorAll("rect");
    expect(number(over, "x")).toBeCloseTo(number(within, "width"));
    expect(number(over, "width") / number(within, "width")).toBeCloseTo(0.03 / 0.25);
    expect(beyond(draw(<LimitBar figure={0.2} value={0.25} />))).toBeNull();
  });

  it("shows what a floor lacks as an outline, and nothing beyond it", () => {
    const box = draw(<LimitBar figure={0.5} value={0.7} floor />);
    expect(beyond(box)).toBeNull();
    expect(box.querySelector(`rect[stroke="${colour.indigo}"]`)).not.toBeNull();
    expect(draw(<LimitBar figure={0.9} value={0.7} floor />).querySelectorAll("rect")).toHaveLength(1);
  });

  it("has no bar for a fall below nothing", () => {
    const box = draw(<LimitBar figure={-0.3} value={0.25} />);
    expect(number(box.querySelector("rect"), "width")).toBe(0);
    expect(box.innerHTML).not.toContain("NaN");
  });
});

describe("the results of a test", () => {
  const test: Evidence["tests"][number] = {
    code: "jump",
    name: "Jump",
    unit: "cm",
    error: 1,
    days: Array(10).fill("2026-01-01"),
    values: [30, 31, 40, 41, 40, 39, 40, 41, 40, 35],
  };

  it("draw the last eight, the newest apart", () => {
    const circles = draw(<TestSpark test={test} />).querySelectorAll("circle");
    expect(circles).toHaveLength(8);
    expect(circles[7]?.getAttribute("fill")).toBe(colour.indigo);
    // 35 lies below every one before it.
    expect(number(circles[7], "cy")).toBeGreaterThan(number(circles[6], "cy"));
  });

  it("draw a single result, and one without a typical error", () => {
    const one = draw(<TestSpark test={{ ...test, values: [40], error: null }} />);
    expect(one.querySelectorAll("circle")).toHaveLength(1);
    expect(one.innerHTML).not.toContain("NaN");
  });
});

function felt(changes: Partial<Felt> = {}): Felt {
  return {
    item: "energy",
    name: "energy",
    value: 7,
    usual: 7,
    spread: 1,
    z: 0,
    lasting: 0,
    sign: 1,
    days: [...Array(28).fill(6), 7],
    ...changes,
  };
}

describe("the ladders of a report", () => {
  const paths = (of: Felt) => draw(<Profile felt={[of]} />).querySelectorAll("path");
  const heightOf = (of: Felt) =>
    Number(/ ([\d.]+)h12/.exec([...paths(of)].at(-1)?.getAttribute("d") ?? "")?.[1]);

  it("stand higher the better the answer, whichever way its scale goes", () => {
    expect(heightOf(felt({ z: 1 }))).toBeLessThan(heightOf(felt({ z: 0 })));
    expect(heightOf(felt({ z: -2 }))).toBeGreaterThan(heightOf(felt({ z: 0 })));
    // A lower pulse than usual is better: the past, higher, lies below the middle.
    const pulse = felt({ item: "resting_heart_rate", value: 50, usual: 52, spread: 2, z: 1, sign: -1 });
    const past = draw(<Profile felt={[{ ...pulse, days: [...Array(28).fill(54), 50] }]} />).querySelector(
      "path",
    );
    expect(Number(/ ([\d.]+)h8/.exec(past?.getAttribute("d") ?? "")?.[1])).toBeGreaterThan(19);
  });

  it("have a stem only where today is worse by a standard deviation, a line below where that lasts", () => {
    const stems = (of: Felt) =>
      draw(<Profile felt={[of]} />).querySelectorAll(`line[stroke="${colour.ochre}"]`).length;
    expect(stems(felt({ z: -0.9 }))).toBe(0);
    expect(stems(felt({ z: -1 }))).toBe(1);
    expect(stems(felt({ z: -1, lasting: -1 }))).toBe(2);
    expect(stems(felt({ z: 2, lasting: -1 }))).toBe(0);
  });

  it("show two hollow blocks for what was not answered", () => {
    const [blocks] = paths(felt({ value: null, z: null }));
    expect(blocks?.getAttribute("d")?.match(/z/g)).toHaveLength(2);
  });

  it("show an answer without a usual as a dot", () => {
    expect(
      draw(<Profile felt={[felt({ usual: null, spread: null, z: null })]} />).querySelectorAll("circle"),
    ).toHaveLength(1);
  });

  it("say themselves in a sentence", () => {
    expect(sentence([felt()])).toBe("Report as usual.");
    expect(sentence([felt({ value: null, z: null })])).toBe("No report this morning.");
    expect(sentence([felt({ value: 4, z: -2, lasting: -1 })])).toBe(
      "Worse than usual: energy 4 (usual 7), lasting.",
    );
  });

  it("are named above, each over its own", () => {
    const texts = draw(
      <ProfileHead felt={[felt({ item: "sleep_hours", name: "hours of sleep" }), felt()]} />,
    ).querySelectorAll("text");
    expect([...texts].map((one) => one.textContent)).toEqual(["up: better than usual", "hours", "energy"]);
    expect(number(texts[2], "x") - number(texts[1], "x")).toBe(STEP);
  });
});

describe("an item's line", () => {
  it("leaves out days without an answer and makes a worse last one ochre", () => {
    const box = draw(<ItemLine felt={felt({ days: [null, 6, null, 4], z: -2 })} />);
    const circles = box.querySelectorAll("circle");
    expect(circles).toHaveLength(2);
    expect(circles[1]?.getAttribute("fill")).toBe(colour.ochre);
    expect(draw(<ItemLine felt={felt({ days: [5, 5] })} width={96} />).innerHTML).not.toContain("NaN");
  });
});

describe("recovery windows", () => {
  const windows: Timeline["windows"] = [
    {
      system: "muscle",
      because: "Court of Tue 10 March, 500",
      begins: "2026-03-10T18:00:00Z",
      early: "2026-03-12T06:00:00Z",
      late: "2026-03-13T18:00:00Z",
    },
  ];

  it("are solid until the early end and dotted until the late one", () => {
    const [solid, dotted] = draw(<RecoveryWindows windows={windows} asOf="2026-03-12" />).querySelectorAll(
      "rect",
    );
    expect(number(solid, "width")).toBeCloseTo(number(dotted, "width"), 0);
    expect(number(dotted, "x")).toBeCloseTo(number(solid, "x") + number(solid, "width"));
    expect(dotted?.getAttribute("stroke-dasharray")).toBeTruthy();
  });

  it("say themselves, with now between what is over and what is to come", () => {
    const box = draw(<RecoveryWindows windows={windows} asOf="2026-03-12" />);
    expect(box.querySelector("svg")?.getAttribute("aria-label")).toContain(
      "muscle: open until Thu 12 March to Fri 13",
    );
    const today = [...box.querySelectorAll("text")].find((one) => one.textContent === "Thu");
    expect(today?.style.fontWeight).toBe("700");
  });
});
