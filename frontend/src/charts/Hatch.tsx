import { colour } from "../theme/tokens";

/** The fill of a corridor on days still to come, under an id. */
export function Hatch({ id }: { id: string }) {
  return (
    <pattern id={id} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="4" height="4" fill={colour.oatAhead} />
      <path d="M0 0V4" stroke={colour.hatch} strokeWidth="1.1" />
    </pattern>
  );
}
