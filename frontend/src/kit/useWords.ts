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
    /** To be called with what is sent, when it is. */
    sent: () => setWords(""),
    /** To be called with what was refused. */
    back: (refused: string) => setWords((now) => now || refused),
  };
}
