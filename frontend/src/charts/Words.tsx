import type { SVGProps } from "react";
import { colour, type } from "../theme/tokens";

interface WordsProps extends SVGProps<SVGTextElement> {
  size?: keyof typeof type;
  strong?: boolean;
}

/** Words in a drawing. Their size is a style: as an attribute it would lose to the page's reset of all type. */
export function Words({ size = "fine", strong = false, ...rest }: WordsProps) {
  const style = { fontSize: type[size], fontWeight: strong ? 700 : 400 };
  return <text fill={colour.quiet} style={style} {...rest} />;
}
