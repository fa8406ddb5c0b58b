import { scaleLinear } from "d3-scale";
import type { Evidence } from "../api/client";
import { colour } from "../theme/tokens";

const WIDTH = 96;
const HEIGHT = 34;
const MOST = 8;

/** The last results of a test; the strip is the middle of the four before the last, with its typical error. */
export function TestSpark({ test }: { test: Evidence["tests"][number] }) {
  const values = test.values.slice(-MOST);
  const before = values.slice(-5, -1).sort((a, b) => a - b);
  const middle = before.length
    ? ((before[Math.floor((before.length - 1) / 2)] ?? 0) +
        (before[Math.ceil((before.length - 1) / 2)] ?? 0)) /
      2
    : (values[0] ?? 0);
  const error = test.error ?? 0;
  const all = [...values, middle - error, middle + error];
  const y = scaleLinear([Math.min(...all), Math.max(...all) || 1], [HEIGHT - 4, 4]);
  const x = scaleLinear([0, Math.max(values.length - 1, 1)], [4, WIDTH - 5]);
  const points = values.map((value, i) => [x(i), y(value)] as const);
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true">
      <rect
        x="0"
        width={WIDTH}
        y={y(middle + error)}
        height={Math.max(1, y(middle - error) - y(middle + error))}
        fill={colour.ruleSoft}
      />
      <polyline points={points.map((one) => one.join()).join(" ")} fill="none" stroke={colour.quiet} />
      {points.map(([px, py], i) => (
        <circle
          // biome-ignore lint/suspicious/noArrayIndexKey: a result has no other name than its place
          key={i}
          cx={px}
          cy={py}
          r={i === points.length - 1 ? 3.2 : 1.8}
          fill={i === points.length - 1 ? colour.indigo : colour.ink}
        />
      ))}
    </svg>
  );
}
