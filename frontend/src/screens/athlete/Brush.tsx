import { scaleLinear } from "d3-scale";
import { line } from "d3-shape";
import { type PointerEvent, useRef } from "react";
import type { Timeline } from "../../api/client";
import type { Span } from "../../charts/TimeAxis";
import { Words } from "../../charts/Words";
import { dayAndMonth } from "../../frame/days";
import { colour } from "../../theme/tokens";

const LEFT = 118;
const RIGHT = 14;
const HEIGHT = 40;
const GRIP = 7;

interface BrushProps {
  timeline: Timeline;
  span: Span;
  width: number;
  onSpan: (span: Span) => void;
}

/** The whole history in small, with the part that is shown: drag it, or its edges; the keys of each edge move it. */
export function Brush({ timeline, span, width, onSpan }: BrushProps) {
  const drag = useRef<{ part: "from" | "to" | "both"; start: number; span: Span } | null>(null);
  const count = timeline.days.length;
  const x = scaleLinear([0, count - 1], [LEFT, width - RIGHT]);
  const week = timeline.channels[0]?.strip.week ?? [];
  const y = scaleLinear([0, Math.max(1, ...week.map((value) => value ?? 0))], [HEIGHT - 3, 3]);
  const path = line<number>()
    .defined((i) => week[i] != null)
    .x((i) => x(i))
    .y((i) => y(week[i] ?? 0))(timeline.days.map((_, i) => i));
  const begin = (part: "from" | "to" | "both") => (event: PointerEvent<SVGRectElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = { part, start: event.clientX, span };
  };
  const move = (event: PointerEvent<SVGRectElement>) => {
    if (!drag.current) return;
    const { part, start, span: before } = drag.current;
    const days = Math.round(((event.clientX - start) / (width - LEFT - RIGHT)) * (count - 1));
    if (part === "from") onSpan({ from: Math.min(before.from + days, before.to - 7), to: before.to });
    else if (part === "to") onSpan({ from: before.from, to: Math.max(before.to + days, before.from + 7) });
    else {
      const shift = Math.max(-before.from, Math.min(days, count - 1 - before.to));
      onSpan({ from: before.from + shift, to: before.to + shift });
    }
  };
  const end = () => {
    drag.current = null;
  };
  const edge = (part: "from" | "to") => (
    <rect
      key={part}
      role="slider"
      tabIndex={0}
      aria-label={part === "from" ? "First day shown" : "Last day shown"}
      aria-valuemin={0}
      aria-valuemax={count - 1}
      aria-valuenow={span[part]}
      aria-valuetext={dayAndMonth(timeline.days[span[part]] ?? "")}
      x={x(span[part]) - GRIP / 2}
      width={GRIP}
      y="0"
      height={HEIGHT}
      fill={colour.kelp}
      style={{ cursor: "ew-resize" }}
      onPointerDown={begin(part)}
      onPointerMove={move}
      onPointerUp={end}
      onKeyDown={(event) => {
        const step = { ArrowLeft: -7, ArrowRight: 7 }[event.key];
        if (step === undefined) return;
        event.preventDefault();
        event.stopPropagation();
        onSpan({ ...span, [part]: span[part] + step });
      }}
    />
  );
  return (
    <svg width={width} height={HEIGHT + 2} className="brush" aria-label="The whole history">
      <rect x={LEFT} width={width - LEFT - RIGHT} height={HEIGHT} fill={colour.raised} stroke={colour.rule} />
      <path d={path ?? ""} fill="none" stroke={colour.quiet} />
      <rect
        x={x(span.from)}
        width={Math.max(2, x(span.to) - x(span.from))}
        height={HEIGHT}
        fill={colour.paleKelp}
        opacity="0.55"
        style={{ cursor: "grab" }}
        onPointerDown={begin("both")}
        onPointerMove={move}
        onPointerUp={end}
      />
      {edge("from")}
      {edge("to")}
      <Words x={LEFT - 8} y={HEIGHT / 2 + 4} textAnchor="end" size="small">
        from {dayAndMonth(timeline.days[0] ?? "")}
      </Words>
    </svg>
  );
}
