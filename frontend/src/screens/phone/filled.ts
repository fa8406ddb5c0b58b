import type { Pain } from "../../api/client";

/** A form as far as it is filled in. */
export interface Filled {
  answers: Record<string, number>;
  pains: Pain[];
  ill: boolean;
  clinicalWords: string;
  words: string;
}
