import { useId } from "react";
import type { NoticeItem } from "../api/client";
import { colour } from "../theme/tokens";

type Shape = NoticeItem["shape"];
type Severity = NoticeItem["severity"];

/** Closed paths on a square of 12 units. */
const PATHS: Record<Shape, string> = {
  over: "M6 1.2L11.2 10.8H.8Z",
  under: "M6 10.8L.8 1.2H11.2Z",
  wave: "M.8 6.6C2.6 1.4 4.8 1.8 6 4.4C7.2 7 9.2 7 11.2 2.6V6.2C9.4 11.2 7.2 11 6 8.4C4.8 5.8 2.8 5.8.8 10.2Z",
  gap: "M.9 2.4H4.7V9.6H.9ZM7.3 2.4H11.1V9.6H7.3Z",
  link: "M3.4 3.4H5.2V8.6H3.4A2.6 2.6 0 0 1 3.4 3.4ZM6.8 3.4H8.6A2.6 2.6 0 0 1 8.6 8.6H6.8Z",
};

const COLOURS: Record<Shape, string> = {
  over: colour.madder,
  under: colour.indigo,
  wave: colour.ochre,
  gap: colour.quiet,
  link: colour.plum,
};

export const SEVERITY_WORDS: Record<Severity, string> = { note: "note", watch: "watch", act: "act" };

interface NotchProps {
  shape: Shape;
  severity: Severity;
  size?: number;
  /** What it stands for, in words; left out where the words stand beside it. */
  label?: string;
}

/** A notice as a notch: its shape says what kind it is, outline, half or solid how much it asks for. */
export function Notch({ shape, severity, size = 14, label }: NotchProps) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 12 12"
      role={label ? "img" : undefined}
      aria-label={label}
      aria-hidden={label ? undefined : true}
    >
      {label && <title>{label}</title>}
      <NotchPath shape={shape} severity={severity} />
    </svg>
  );
}

export function NotchPath({ shape, severity }: { shape: Shape; severity: Severity }) {
  const id = useId();
  const ink = COLOURS[shape];
  const path = PATHS[shape];
  return (
    <>
      <path
        d={path}
        fill={severity === "act" ? ink : colour.raised}
        stroke={ink}
        strokeWidth="1.4"
        strokeLinejoin="round"
      />
      {severity === "watch" && (
        <>
          <clipPath id={id}>
            <rect x="0" y="6.4" width="12" height="6" />
          </clipPath>
          <path d={path} fill={ink} clipPath={`url(#${id})`} />
        </>
      )}
    </>
  );
}
