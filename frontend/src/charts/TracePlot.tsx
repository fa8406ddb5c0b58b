import { useEffect, useRef } from "react";
import uPlot from "uplot";
import "uplot/dist/uPlot.min.css";
import { colour } from "../theme/tokens";
import "./charts.css";

export interface TraceLine {
  t: number[];
  low: (number | null)[];
  mean: (number | null)[];
  high: (number | null)[];
}

export interface Hits {
  t: number[];
  g: number[];
  right: boolean[];
}

interface TracePlotProps {
  /** What is drawn: a line with its spread, or single impacts. */
  line?: TraceLine | null;
  hits?: Hits | null;
  name: string;
  unit: string;
  stroke: string;
  width: number;
  height?: number;
  /** Seconds from the start of the session that are shown. */
  span: [number, number];
  /** Begins of the segments, in seconds. */
  edges: number[];
  axis?: boolean;
  label: string;
}

const FONT = "11px 'Atkinson Hyperlegible Next Variable', sans-serif";

/** One quantity over the session's time. Plots of one session share their cursor. */
export function TracePlot(props: TracePlotProps) {
  const place = useRef<HTMLDivElement>(null);
  const plot = useRef<uPlot | null>(null);
  const latest = useRef(props);
  latest.current = props;
  const { line, hits, width, height = 130, axis = false, span, edges } = props;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the edges are read as they are when it is drawn
  useEffect(() => {
    if (!place.current) return;
    const made = new uPlot(optionsOf(latest.current), dataOf(latest.current), place.current);
    plot.current = made;
    return () => {
      made.destroy();
      plot.current = null;
    };
  }, [line, hits, axis, span[0], span[1]]);
  useEffect(() => plot.current?.setSize({ width, height }), [width, height]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: moved edges are drawn anew
  useEffect(() => plot.current?.redraw(false), [edges]);
  return <div ref={place} role="img" aria-label={props.label} className="trace-plot" />;

  function optionsOf(now: TracePlotProps): uPlot.Options {
    const impacts = Boolean(now.hits);
    const spread = { width: 0, points: { show: false }, spanGaps: false };
    return {
      width: now.width,
      height: now.height ?? 130,
      pxAlign: false,
      // All plots of a session have the same edges, whatever stands below them.
      padding: [8, 18, now.axis ? 0 : 6, 0],
      cursor: { sync: { key: "session" }, y: false, drag: { x: true, y: false }, points: { size: 6 } },
      legend: { show: true, live: true },
      scales: {
        x: { time: false, range: now.span },
        y: { range: (_, low, high) => padded(low, high, impacts) },
      },
      axes: [
        {
          show: now.axis ?? false,
          font: FONT,
          stroke: colour.quiet,
          size: 26,
          grid: { stroke: colour.rule, width: 1 },
          ticks: { show: false },
          values: (_, splits) => splits.map((second) => `${Math.round(second / 60)} min`),
          incrs: [60, 120, 300, 600, 900, 1800],
        },
        {
          font: FONT,
          stroke: colour.quiet,
          size: 44,
          grid: { stroke: colour.rule, width: 1 },
          ticks: { show: false },
        },
      ],
      series: impacts
        ? [
            { label: "min", value: (_, second) => clock(second) },
            dots("left, g", colour.ink, -1),
            dots("right, g", colour.ink, 1),
          ]
        : [
            { label: "min", value: (_, second) => clock(second) },
            { ...spread, label: "least", show: true, stroke: "transparent" },
            { ...spread, label: "most", show: true, stroke: "transparent" },
            {
              label: `${now.name}, ${now.unit}`,
              stroke: now.stroke,
              width: 1.4,
              points: { show: false },
              spanGaps: false,
            },
          ],
      bands: impacts ? [] : [{ series: [2, 1], fill: `${now.stroke}2b` }],
      hooks: {
        drawAxes: [
          (u) => {
            u.ctx.save();
            u.ctx.strokeStyle = colour.ink;
            u.ctx.setLineDash([2, 3]);
            for (const edge of latest.current.edges) {
              const x = Math.round(u.valToPos(edge, "x", true)) + 0.5;
              if (x < u.bbox.left || x > u.bbox.left + u.bbox.width) continue;
              u.ctx.beginPath();
              u.ctx.moveTo(x, u.bbox.top);
              u.ctx.lineTo(x, u.bbox.top + u.bbox.height);
              u.ctx.stroke();
            }
            u.ctx.restore();
          },
        ],
      },
    };
  }
}

function padded(low: number, high: number, impacts: boolean): [number, number] {
  if (impacts) {
    const most = Math.max(Math.abs(low), Math.abs(high), 4) * 1.08;
    return [-most, most];
  }
  const room = Math.max(high - low, 1) * 0.06;
  return [Math.max(low - room, 0), high + room];
}

function clock(second: number | null): string {
  if (second === null || second === undefined) return "–";
  const sign = second < 0 ? "−" : "";
  const whole = Math.floor(Math.abs(second));
  return `${sign}${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}

function dots(label: string, stroke: string, sign: number): uPlot.Series {
  return {
    label,
    stroke,
    width: 0,
    paths: () => null,
    points: { show: true, size: 4, stroke, fill: sign > 0 ? stroke : colour.raised, width: 1.2 },
    value: (_, value) => (value === null ? "–" : Math.abs(value).toFixed(1)),
  };
}

/** Impacts of the left go down, those of the right up: told apart without their colour. */
function dataOf({ line, hits }: TracePlotProps): uPlot.AlignedData {
  if (hits) {
    return [
      hits.t,
      hits.g.map((g, i) => (hits.right[i] ? null : -g)),
      hits.g.map((g, i) => (hits.right[i] ? g : null)),
    ] as uPlot.AlignedData;
  }
  return [line?.t ?? [], line?.low ?? [], line?.high ?? [], line?.mean ?? []] as uPlot.AlignedData;
}
