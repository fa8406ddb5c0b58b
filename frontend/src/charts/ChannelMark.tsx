import { colour } from "../theme/tokens";

/** A kind of work told by its shape alone: strokes on a square of 12 units. */
const PATHS: Record<string, string> = {
  ring: "M6 1.6A4.4 4.4 0 1 0 6 10.4A4.4 4.4 0 1 0 6 1.6Z",
  bar: "M1 6H11M2.6 3V9M9.4 3V9",
  wedge: "M1.4 10L10.6 6L1.4 2",
  cross: "M2 2L10 10M10 2L2 10",
  square: "M2 2H10V10H2Z",
  wave: "M1 7.5C2.7 2.5 4.3 2.5 6 6S9.3 9.5 11 4.5",
  dots: "M2.2 6H2.3M5.95 6H6.05M9.7 6H9.8",
  fork: "M1.5 10.5L6 5.5L10.5 10.5M6 5.5V1.5",
};

export const MARK_NAMES = Object.keys(PATHS);

export function ChannelMark({ mark, size = 13, label }: { mark: string; size?: number; label?: string }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 12 12"
      role={label ? "img" : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
      style={{ display: "inline-block", flex: "none", verticalAlign: "-1px" }}
    >
      <path
        d={PATHS[mark] ?? PATHS.ring}
        fill="none"
        stroke={colour.ink}
        strokeWidth={mark === "dots" ? 2.4 : 1.5}
        strokeLinecap="round"
        strokeLinejoin="round"
      />
    </svg>
  );
}
