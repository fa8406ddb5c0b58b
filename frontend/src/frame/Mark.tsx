/** The mark: a corridor with a line through it. */
export function Mark({ width = 27 }: { width?: number }) {
  return <img src="/mark.svg" width={width} height={(width * 18) / 28} alt="" />;
}
