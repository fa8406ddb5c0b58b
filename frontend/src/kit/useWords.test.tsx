// @vitest-environment jsdom
import { act } from "react";
import { createRoot } from "react-dom/client";
import { beforeEach, expect, test, vi } from "vitest";
import { useWords } from "./useWords";

beforeEach(() => void vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true));

let field: ReturnType<typeof useWords>;
function Field() {
  field = useWords();
  return null;
}

async function typed(first: string) {
  await act(async () => createRoot(document.createElement("div")).render(<Field />));
  await act(async () => field.setWords(first));
  let taken = "";
  await act(async () => {
    taken = field.take();
  });
  return taken;
}

test("the field is free while words are on their way", async () => {
  expect(await typed("sand")).toBe("sand");
  expect(field.words).toBe("");
});

test("what is refused comes back", async () => {
  await typed("sand");
  await act(async () => field.back("sand"));
  expect(field.words).toBe("sand");
});

test("what was typed meanwhile stays", async () => {
  await typed("sand");
  await act(async () => field.setWords("water"));
  await act(async () => field.back("sand"));
  expect(field.words).toBe("water");
});
