import { colour } from "../theme/tokens";

interface CallBarProps {
  load: number;
  room: number | null;
  /** Load at the right end. */
  most: number;
}

/** What a call comes to: the part within room in kelp, the part beyond it in madder, room as a line. */
export function CallBar({ load, room, most }: CallBarProps) {
  const percent = (value: number) => `${Math.min(100, (value / most) * 100)}%`;
  const within = room === null ? load : Math.min(load, room);
  return (
    <svg width="100%" height="25" aria-hidden="true" style={{ overflow: "visible" }}>
      <line x1="0" x2="100%" y1="12.5" y2="12.5" stroke={colour.rule} />
      <rect x="0" y="8" width={percent(within)} height="9" fill={colour.kelp} />
      {room !== null && load > room && (
        <rect x={percent(room)} y="8" width={percent(load - room)} height="9" fill={colour.madder} />
      )}
      {room !== null && (
        <line x1={percent(room)} x2={percent(room)} y1="0" y2="25" stroke={colour.ink} strokeWidth="1.2" />
      )}
    </svg>
  );
}
