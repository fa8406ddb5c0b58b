// @vitest-environment jsdom

import { QueryClient, QueryClientProvider, useQuery } from "@tanstack/react-query";
import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { box, show } from "../testing";
import { ToastPlace, useToast } from "./toast";

let say: ReturnType<typeof useToast>;
let answer: (seen: string) => void;

function Desk() {
  say = useToast();
  const seen = useQuery({ queryKey: ["day"], queryFn: () => new Promise<string>((done) => (answer = done)) });
  return <p>{seen.data}</p>;
}

beforeEach(async () => {
  vi.useFakeTimers();
  await show(
    <QueryClientProvider client={new QueryClient()}>
      <ToastPlace>
        <Desk />
      </ToastPlace>
    </QueryClientProvider>,
  );
});

afterEach(() => {
  vi.useRealTimers();
});

const wait = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));
const line = () => box.querySelector(".toast");
const rest = (kind: "over" | "out") =>
  act(async () => line()?.dispatchEvent(new Event(`pointer${kind}`, { bubbles: true })));

it("waits until what was done is seen, then ten seconds", async () => {
  await act(async () => say("Moved on.", () => {}));
  await wait(60_000);
  expect(line()?.textContent).toContain("Undo");
  await act(async () => answer("stage 4"));
  await wait(1);
  await wait(9_900);
  expect(line()).not.toBeNull();
  await wait(200);
  expect(line()).toBeNull();
});

it("stays while a pointer rests on it, and is counted anew after", async () => {
  await act(async () => answer("stage 3"));
  await wait(1);
  await act(async () => say("Moved on.", () => {}));
  await rest("over");
  await wait(60_000);
  expect(line()).not.toBeNull();
  await rest("out");
  await wait(10_001);
  expect(line()).toBeNull();
});

it("is undone once", async () => {
  const undo = vi.fn();
  await act(async () => say("Moved on.", undo));
  await act(async () => box.querySelector("button")?.click());
  expect(undo).toHaveBeenCalledOnce();
  expect(line()).toBeNull();
});
