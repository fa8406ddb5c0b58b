// @vitest-environment jsdom
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { createRoot } from "react-dom/client";
import { beforeEach, expect, test, vi } from "vitest";
import { useDoing } from "./useDoing";

const said: string[] = [];
vi.mock("../frame/toast", () => ({ useToast: () => (words: string) => said.push(words) }));

beforeEach(() => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  said.length = 0;
});

/** Does it once; returns what was told, and whether what rests on it is stale then. */
async function pressed(send: (what: string) => Promise<string>) {
  const queries = new QueryClient();
  queries.setQueryData(["places", "north"], []);
  const told: string[] = [];
  let press: ReturnType<typeof useDoing<string, string>>;
  function Button() {
    press = useDoing<string, string>(["places"], send, (answer, what) => told.push(`${what}: ${answer}`));
    return null;
  }
  const shown = (
    <QueryClientProvider client={queries}>
      <Button />
    </QueryClientProvider>
  );
  await act(async () => createRoot(document.createElement("div")).render(shown));
  await act(async () => press.mutateAsync("sand").catch(() => {}));
  return { told, stale: queries.getQueryState(["places", "north"])?.isInvalidated };
}

test("what was done is told, and what rests on it is asked for again", async () => {
  expect(await pressed(async () => "added")).toEqual({ told: ["sand: added"], stale: true });
  expect(said).toEqual([]);
});

test("what went wrong is said, and what stands there is asked for all the same", async () => {
  const refused = await pressed(() => Promise.reject(new Error("This place is there already.")));
  expect(refused).toEqual({ told: [], stale: true });
  expect(said).toEqual(["This place is there already."]);
});
