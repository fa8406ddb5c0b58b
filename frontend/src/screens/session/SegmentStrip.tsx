import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { Words } from "../../charts/Words";
import * as say from "../../frame/numbers";

export interface Part {
  name: string;
  begins: number;
  minutes: number;
  weight: number;
  grade: number | null;
}

interface SegmentStripProps {
  parts: Part[];
  /** Minutes from the start of the session that are shown. */
  span: [number, number];
  width: number;
  /** Space left of and right of the plots below. */
  inset: [number, number];
  editable: boolean;
  onMove: (parts: Part[]) => void;
  onSettle: (parts: Part[]) => void;
}

const LEAST = 1;

/** The parts of a session above its traces; their edges can be dragged, or moved with the arrow keys. */
export function SegmentStrip({ parts, span, width, inset, editable, onMove, onSettle }: SegmentStripProps) {
  const strip = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const inner = Math.max(width - inset[0] - inset[1], 10);
  const x = (minute: number) => inset[0] + ((minute - span[0]) / (span[1] - span[0])) * inner;
  const edges = [...parts.map((part) => part.begins), endOf(parts.at(-1))];
  const drag = (event: PointerEvent) => {
    if (held === null || !strip.current) return;
    const at = event.clientX - strip.current.getBoundingClientRect().left - inset[0];
    onMove(moved(parts, held, span[0] + (at / inner) * (span[1] - span[0])));
  };
  const release = () => {
    if (held === null) return;
    setHeld(null);
    onSettle(parts);
  };
  const nudge = (event: KeyboardEvent, edge: number) => {
    const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    const next = moved(parts, edge, (edges[edge] ?? 0) + by * (event.shiftKey ? 5 : 0.5));
    onMove(next);
    onSettle(next);
  };
  return (
    <svg
      ref={strip}
      width={width}
      height="36"
      className="segment-strip"
      onPointerMove={drag}
      onPointerUp={release}
      onPointerCancel={release}
      role="group"
      aria-label="Parts of the session"
    >
      {parts.map((part, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: two parts may have one name
        <g key={`${part.name} ${i}`}>
          <rect
            x={x(part.begins)}
            y="6"
            width={Math.max(x(part.begins + part.minutes) - x(part.begins), 0)}
            height="24"
            fill={i % 2 ? "var(--rule-soft)" : "var(--pale-kelp)"}
          />
          <Words x={x(part.begins) + 7} y="22" size="note" fill="var(--ink)">
            {fitting(part.name, x(part.begins + part.minutes) - x(part.begins))}
          </Words>
        </g>
      ))}
      {editable &&
        edges.map((edge, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: an edge is what stands between two parts
          <g key={i} transform={`translate(${x(edge)} 0)`}>
            <line y1="2" y2="34" stroke="var(--ink)" strokeWidth="2" />
            <rect
              x="-9"
              width="18"
              height="36"
              fill="transparent"
              className="edge"
              role="slider"
              tabIndex={0}
              aria-label={i < parts.length ? `Begin of ${parts[i]?.name}` : `End of ${parts.at(-1)?.name}`}
              aria-valuenow={Math.round(edge * 10) / 10}
              aria-valuetext={`${say.short(edge)} minutes`}
              aria-valuemin={span[0]}
              aria-valuemax={span[1]}
              onPointerDown={(event) => {
                event.preventDefault();
                strip.current?.setPointerCapture(event.pointerId);
                setHeld(i);
              }}
              onKeyDown={(event) => nudge(event, i)}
            />
          </g>
        ))}
    </svg>
  );
}

const endOf = (part: Part | undefined) => (part ? part.begins + part.minutes : 0);

function fitting(name: string, width: number): string {
  const letters = Math.floor((width - 12) / 6.6);
  if (letters >= name.length) return name;
  return letters < 4 ? "" : `${name.slice(0, letters - 1)}…`;
}

/** The parts with one edge moved: what lies on its other side gives way, down to a minute. */
export function moved(parts: Part[], edge: number, to: number): Part[] {
  const half = Math.round(to * 2) / 2;
  const before = parts[edge - 1];
  const after = parts[edge];
  const least = before ? before.begins + LEAST : -120;
  const most = after ? endOf(after) - LEAST : 600;
  const at = Math.min(Math.max(half, least), most);
  return parts.map((part, i) => {
    // A pause between two parts stays one: only parts that touch give way together.
    if (i === edge - 1 && (!after || endOf(part) === after.begins))
      return { ...part, minutes: at - part.begins };
    if (i === edge) return { ...part, begins: at, minutes: endOf(part) - at };
    return part;
  });
}
