import "./charts.css";

interface Props {
  /** Shares of the own maximum, every ten seconds up to now; null where nothing was measured. */
  shares: (number | null)[];
  low: number | null;
  high: number | null;
  width: number;
  height: number;
  label: string;
}

const AHEAD = 9;

/** Ten minutes of heart rate against the own aim, and a minute and a half of the aim to come. */
export function Ribbon({ shares, low, high, width, height, label }: Props) {
  const bottom = Math.min(low ?? 60, ...shares.filter((share) => share !== null)) - 4;
  const top = Math.max(high ?? 80, ...shares.filter((share) => share !== null)) + 4;
  const step = width / (shares.length + AHEAD);
  const y = (share: number) => height - ((share - bottom) / (top - bottom)) * height;
  const now = shares.length * step;
  const id = `above-${Math.round(high ?? 0)}-${width}-${height}`;
  const line = path(shares, step, y);
  const newest = shares.at(-1);
  return (
    <svg
      viewBox={`0 0 ${width} ${height}`}
      width="100%"
      height={height}
      role="img"
      aria-label={label}
      className="ribbon"
    >
      {low !== null && high !== null && (
        <>
          <rect width={now} y={y(high)} height={y(low) - y(high)} className="aim-now" />
          <rect x={now} width={width - now} y={y(high)} height={y(low) - y(high)} className="aim-ahead" />
          <clipPath id={id}>
            <rect width={width} height={Math.max(y(high), 0)} />
          </clipPath>
          <path d={`${line}V${height}`} className="ribbon-over" clipPath={`url(#${id})`} />
        </>
      )}
      <path d={line} className="ribbon-line" />
      <path d={`M${now} 0V${height}`} className="ribbon-now" />
      {newest != null && <circle cx={now} cy={y(newest)} r="4" className="ribbon-dot" />}
    </svg>
  );
}

/** A line that breaks where nothing was measured. */
function path(shares: (number | null)[], step: number, y: (share: number) => number): string {
  let open = false;
  return shares
    .map((share, i) => {
      const move = share !== null && !open;
      open = share !== null;
      return share === null ? "" : `${move ? "M" : "L"}${((i + 1) * step).toFixed(1)} ${y(share).toFixed(1)}`;
    })
    .join("");
}
