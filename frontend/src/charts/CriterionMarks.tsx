import { colour } from "../theme/tokens";

export interface CriterionShown {
  looks: string;
  met: boolean;
  marks: { value: number | null; after: number | null }[];
  most: number;
  most_after: number;
}

interface Props {
  criterion: CriterionShown;
  /** What it shows, in words. */
  label: string;
}

const WIDTH = 84;
const HEIGHT = 32;

/** What a criterion was judged by: pains against the most, a side against the other, sessions one by one. */
export function CriterionMarks({ criterion, label }: Props) {
  const Picture = PICTURES[criterion.looks] ?? Word;
  return (
    <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="criterion-marks" role="img" aria-label={label}>
      <Picture criterion={criterion} />
    </svg>
  );
}

const at = (i: number, n: number) => 6 + (i * (WIDTH - 12)) / Math.max(1, n - 1);

/** Pain in a session as a filled mark, the morning after as a hollow one; above the lines it was too much. */
function Pains({ criterion }: { criterion: CriterionShown }) {
  const { most: during, most_after: after } = criterion;
  const y = (pain: number) => HEIGHT - 4 - (Math.min(pain, 6) / 6) * (HEIGHT - 8);
  const colourOf = (pain: number, most: number) => (pain > most ? colour.ochre : colour.ink);
  return (
    <>
      <rect x="0" width={WIDTH} y={y(during)} height={y(0) - y(during)} fill={colour.ruleSoft} />
      <path d={`M0 ${y(after)}H${WIDTH}`} stroke={colour.quiet} strokeDasharray="2 2" strokeWidth="0.8" />
      {criterion.marks.map(({ value: inside, after: morning }, i) => {
        const x = at(i, criterion.marks.length);
        return (
          // biome-ignore lint/suspicious/noArrayIndexKey: a mark is its place
          <g key={i}>
            {inside != null && <circle cx={x} cy={y(inside)} r="2.4" fill={colourOf(inside, during)} />}
            {morning != null && (
              <circle
                cx={x + 4}
                cy={y(morning)}
                r="2.2"
                fill={colour.raised}
                stroke={colourOf(morning, after)}
              />
            )}
          </g>
        );
      })}
    </>
  );
}

/** Per cent of the other side, or of the own best, on their way to the line. */
function Percents({ criterion }: { criterion: CriterionShown }) {
  const needed = criterion.looks === "sides" ? 100 - criterion.most : criterion.most;
  const values = criterion.marks.map(({ value }) => value ?? 0);
  const low = Math.min(needed - 15, ...values) - 2;
  const y = (value: number) => HEIGHT - 3 - ((Math.min(value, 104) - low) / (104 - low)) * (HEIGHT - 6);
  const points = values.map((value, i) => [at(i, values.length), y(value)] as const);
  return (
    <>
      <rect x="0" width={WIDTH} y="0" height={y(needed)} fill={colour.ruleSoft} />
      <path d={`M0 ${y(needed)}H${WIDTH}`} stroke={colour.quiet} />
      <polyline points={points.map((point) => point.join(",")).join(" ")} fill="none" stroke={colour.quiet} />
      {points.map(([x, top]) => (
        <circle key={x} cx={x} cy={top} r="2.6" fill={colour.ink} />
      ))}
    </>
  );
}

/** Sessions one by one: whole where it stayed calm, hollow where it did not. */
function Blocks({ criterion }: { criterion: CriterionShown }) {
  const shown = criterion.marks.slice(-8);
  const width = WIDTH / 8 - 2;
  return shown.map(({ value: calm }, i) => (
    <rect
      // biome-ignore lint/suspicious/noArrayIndexKey: a session is its place
      key={i}
      x={i * (width + 2) + 0.5}
      y="9"
      width={width - 1}
      height="14"
      fill={calm ? colour.plum : colour.raised}
      stroke={colour.plum}
    />
  ));
}

/** Somebody's word: two blocks, whole once it is given. */
function Word({ criterion }: { criterion: CriterionShown }) {
  const fill = criterion.met ? colour.plum : colour.raised;
  return [20, 44].map((x) => (
    <rect key={x} x={x} y="9" width="18" height="13" fill={fill} stroke={colour.quiet} />
  ));
}

const PICTURES: Record<string, (props: { criterion: CriterionShown }) => React.ReactNode> = {
  pain: Pains,
  sides: Percents,
  best: Percents,
  sessions: Blocks,
  word: Word,
  days: Word,
};
