import { useState } from "react";

/**
 * Words in a field that are sent off while one may already type the next: the field is empty at once, and has them back
 * if they are refused and nothing else stands there by then.
 */
export function useWords() {
  const [words, setWords] = useState("");
  return {
    words,
    setWords,
    /** Gives what is to be sent, and empties the field for the next. */
    take: () => {
      setWords("");
      return words;
    },
    /** To be called with what was refused. */
    back: (refused: string) => setWords((now) => now || refused),
  };
}
