import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import { colour } from "../theme/tokens";
import { RoomSlot } from "./RoomSlot";
import { SeasonBand } from "./SeasonBand";
import { SpareTicks } from "./SpareTicks";

const widths = (markup: string, fill: string) =>
  [...markup.matchAll(/<rect([^>]*)>/g)]
    .map((found) => found[1] ?? "")
    .filter((rect) => rect.includes(`fill="${fill}"`))
    .map((rect) => Number(/ width="([\d.]+)"/.exec(rect)?.[1]));

test("a plan inside its room leaves the rest of the slot open, and one that does not sticks out of it", () => {
  const fits = renderToStaticMarkup(<RoomSlot plan={300} room={600} full={600} />);
  expect(widths(fits, colour.madder)).toEqual([]);
  expect(widths(fits, colour.raised)).toContain(96);
  const over = renderToStaticMarkup(<RoomSlot plan={450} room={300} full={600} />);
  expect(widths(over, colour.madder)).toEqual([24]);
  // What is over by next to nothing is still seen.
  expect(widths(renderToStaticMarkup(<RoomSlot plan={301} room={300} full={600} />), colour.madder)).toEqual([
    2,
  ]);
});

test("without a figure there is no slot, only what is planned", () => {
  const markup = renderToStaticMarkup(<RoomSlot plan={300} room={null} full={600} />);
  expect(markup).not.toContain("<line");
  expect(widths(markup, colour.madder)).toEqual([]);
});

test("ticks stand right of the line by what is spare and left of it by what is over", () => {
  const markup = renderToStaticMarkup(<SpareTicks spare={[100, 0, -600]} full={600} said="1 over" />);
  const at = [...markup.matchAll(/x1="([\d.]+)"[^>]*stroke="(#\w+)"/g)].map(([, x, stroke]) => [
    Number(x),
    stroke,
  ]);
  expect(at.filter(([, stroke]) => stroke === colour.madder)).toEqual([[2, colour.madder]]);
  const spare = at.filter(([, stroke]) => stroke === colour.kelpMiddle).map(([x]) => Number(x));
  expect(spare.map(Math.round)).toEqual([36, 24]);
  expect(markup).toContain('aria-label="1 over"');
});

test("a season says its phases in words, and names what there is room for", () => {
  const markup = renderToStaticMarkup(
    <SeasonBand
      day="2026-09-20"
      phases={[
        { kind: "preparation", name: "Three days of testing", first: "2026-08-29", last: "2026-08-31" },
        { kind: "competition", name: "League", first: "2026-09-01", last: "2027-05-31" },
      ]}
    />,
  );
  expect(markup).toContain("Three days of testing from 2026-08-29 to 2026-08-31; League from");
  expect(markup).toContain(">League</text>");
  expect(markup).not.toContain(">Three days of testing</text>");
});
