import { colour } from "../theme/tokens";

interface Props {
  id: string;
  ground?: string;
  line?: string;
  /** From line to line. */
  step?: number;
}

/** A hatched fill under an id; as it is, that of a corridor on days still to come. */
export function Hatch({ id, ground = colour.oatAhead, line = colour.hatch, step = 4 }: Props) {
  return (
    <pattern id={id} width={step} height={step} patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width={step} height={step} fill={ground} />
      <path d={`M0 0V${step}`} stroke={line} strokeWidth="1.1" />
    </pattern>
  );
}
