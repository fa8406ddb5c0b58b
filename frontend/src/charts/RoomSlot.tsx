import { useId } from "react";
import { colour } from "../theme/tokens";
import "./charts.css";

interface RoomSlotProps {
  plan: number;
  room: number | null;
  /** Load that the whole width stands for. */
  full: number;
}

const WIDTH = 96;
const HEIGHT = 9;

/** A day's plan, hatched, in the slot of its room; what does not fit sticks out of it. */
export function RoomSlot({ plan, room, full }: RoomSlotProps) {
  const hatch = useId();
  const x = (load: number) => (Math.min(load, full) / full) * WIDTH;
  const inside = Math.min(plan, room ?? plan);
  return (
    <svg className="room-slot" viewBox={`0 0 ${WIDTH + 2} ${HEIGHT + 4}`} aria-hidden="true">
      <pattern id={hatch} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
        <rect width="4" height="4" fill={colour.raised} />
        <path d="M0 0V4" stroke={colour.kelp} strokeWidth="1.8" />
      </pattern>
      {room !== null && (
        <rect x={1} y={2} width={x(room)} height={HEIGHT} fill={colour.raised} stroke={colour.kelpLight} />
      )}
      <rect x={1} y={2} width={x(inside)} height={HEIGHT} fill={`url(#${hatch})`} />
      {room !== null && plan > room && (
        <rect
          x={1 + x(room)}
          y={2}
          width={Math.max(2, x(plan) - x(room))}
          height={HEIGHT}
          fill={colour.madder}
        />
      )}
      {room !== null && (
        <line
          x1={1 + x(room)}
          x2={1 + x(room)}
          y1={0}
          y2={HEIGHT + 4}
          stroke={colour.ink}
          strokeWidth={1.6}
        />
      )}
    </svg>
  );
}
