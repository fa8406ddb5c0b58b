import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import { PatternLine } from "./PatternLine";
import { PercentBar, PercentTicks } from "./PercentBar";
import { ShareOutlines } from "./ShareOutlines";

const drawn = (picture: React.ReactElement) => renderToStaticMarkup(picture);
const numbers = (text: string, name: string) =>
  [...text.matchAll(new RegExp(` ${name}="([\\d.]+)"`, "g"))].map((found) => Number(found[1]));

test("a bar of a whole match ends on the line of one", () => {
  const text = drawn(<PercentBar percent={100} />);
  const line = Number(/M([\d.]+) 0V/.exec(text)?.[1]);
  const [from] = numbers(text, "x");
  const width = numbers(text, "width")[1];
  expect((from ?? 0) + (width ?? 0)).toBeCloseTo(line);
});

test("a part begins where the one before ended, and an estimate is an outline", () => {
  const [from] = numbers(drawn(<PercentBar percent={20} from={30} />), "x");
  const before = drawn(<PercentBar percent={30} />);
  expect(from).toBeCloseTo((numbers(before, "x")[0] ?? 0) + (numbers(before, "width")[1] ?? 0));
  expect(drawn(<PercentBar percent={50} estimated />)).toContain("stroke-dasharray");
});

test("what is more than fits is marked, and what is not known has no bar", () => {
  expect(drawn(<PercentBar percent={200} />)).toContain("l4 5");
  expect(drawn(<PercentBar percent={159} />)).not.toContain("l4 5");
  expect(drawn(<PercentBar percent={null} />)).not.toContain("<rect");
});

test("everyone is a tick", () => {
  expect(drawn(<PercentTicks percents={[20, 90, 400]} />).match(/<rect/g)).toHaveLength(3);
});

test("what training and match share is as high as the lower of the two", () => {
  const text = drawn(
    <ShareOutlines
      training={[0.5, 0.5]}
      match={[0.25, 0.75]}
      marks={["0", "2 m/s"]}
      width={100}
      height={118}
      label="x"
    />,
  );
  const [, shared] = [...text.matchAll(/<path d="([^"]+)"/g)]
    .map((found) => found[1] as string)
    .filter((d) => d.startsWith("M0 100L"));
  // Of 94 pixels for three quarters a quarter is 31.3 and a half 62.7.
  expect(shared).toContain(`L0 ${100 - (0.25 / 0.75) * 94}`);
  expect(shared).toContain(`L50 ${100 - (0.5 / 0.75) * 94}`);
});

test("runs and rests take turns over the time shown", () => {
  expect(drawn(<PatternLine on={6} off={14} seconds={120} />).match(/<rect/g)).toHaveLength(6);
});
