import type { SpineSession } from "../api/client";
import { colour } from "../theme/tokens";

const WIDTH_PER_MINUTE = 0.38;

/**
 * A session as a small sign: court and field a bar as long as its minutes, strength a line with end posts, recovery
 * dots, a match a diamond. Planned ones are hollow or dashed.
 */
export function SessionGlyph({ session, y }: { session: SpineSession; y: number }) {
  const ink = session.kind === "gym" ? colour.ink : colour.kelp;
  const width = Math.max(8, Math.min(44, session.minutes * WIDTH_PER_MINUTE));
  if (session.kind === "match") {
    return (
      <path
        d={`M5 ${y - 5}l5 5l-5 5l-5 -5z`}
        transform="translate(1 0)"
        fill={session.done ? colour.ink : "none"}
        stroke={colour.ink}
        strokeWidth="1.2"
      />
    );
  }
  if (session.kind === "gym") {
    const dash = session.done ? undefined : "2.5 2";
    return (
      <path
        d={`M1 ${y - 3}v6M${width} ${y - 3}v6M1 ${y}H${width}`}
        stroke={ink}
        strokeWidth="1.5"
        strokeDasharray={dash}
        fill="none"
      />
    );
  }
  if (session.kind === "recovery") {
    return <path d={`M1 ${y}H18`} stroke={colour.quiet} strokeWidth="2" strokeDasharray="2 3" fill="none" />;
  }
  return (
    <rect
      x="0.5"
      y={y - 2.5}
      width={width}
      height="5"
      fill={session.done ? ink : "none"}
      stroke={ink}
      strokeWidth={session.done ? 0 : 1}
      strokeDasharray={session.done ? undefined : "2.5 1.5"}
    />
  );
}
