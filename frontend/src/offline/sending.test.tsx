// @vitest-environment jsdom

import { act } from "react";
import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { Problem } from "../api/client";
import { box, show as draw } from "../testing";
import type { Waiting } from "./entries";
import { claim, dismiss, enqueue, flush, isWaiting, useOutbox, useSending } from "./outbox";

const kept: Waiting[] = [];
const sent: { path: string; body: unknown }[] = [];
/** What the server says to a path; everything else is taken. */
let answers: Record<string, () => unknown> = {};

// The store as it behaves in a browser: the same key takes the place of the one before and keeps its turn.
vi.mock("./store", () => ({
  waiting: async () => [...kept],
  addWaiting: async (item: Waiting) => {
    const at = kept.findIndex((one) => one.key === item.key);
    if (at < 0) kept.push(item);
    else kept[at] = item;
  },
  takeWaiting: async (key: string) => {
    const at = kept.findIndex((one) => one.key === key);
    if (at >= 0) kept.splice(at, 1);
  },
}));
vi.mock("../api/client", async (original) => ({
  ...(await original<typeof import("../api/client")>()),
  send: async (_method: string, path: string, body: unknown) => {
    sent.push({ path, body });
    return answers[path]?.() ?? {};
  },
}));

const arrived: string[] = [];
const onDone = (item: Waiting) => void arrived.push(item.key);

function Desk({ user }: { user: number }) {
  useSending(user, onDone);
  return (
    <ul>
      {useOutbox().map((item) => (
        <li key={item.key}>{`${item.label}${item.refused ? `: ${item.refused}` : ""}`}</li>
      ))}
    </ul>
  );
}

const show = (user: number) => draw(<Desk user={user} />);
const lines = () => [...box.querySelectorAll("li")].map((line) => line.textContent);
const rating = (key: string, body: Record<string, unknown> = { effort: 5 }) =>
  act(() =>
    enqueue({ what: "other", key, label: `rating ${key}`, method: "PUT", path: `/api/${key}`, body }),
  );
const refuse = (status: number, detail: string) => () => {
  throw new Problem(status, detail);
};

beforeEach(async () => {
  kept.length = sent.length = arrived.length = 0;
  answers = {};
  await show(7);
});

afterEach(() => {
  vi.useRealTimers();
});

test("what is given is sent once, and is gone when it has arrived", async () => {
  await rating("a");
  expect(sent.map((one) => one.path)).toEqual(["/api/a"]);
  expect(arrived).toEqual(["a"]);
  expect(lines()).toEqual([]);
  await act(() => flush());
  expect(sent).toHaveLength(1);
});

test.each([0, 401, 429, 500, 503])("after %i everything keeps waiting, in its order", async (status) => {
  answers = { "/api/a": refuse(status, "not now") };
  await rating("a");
  await rating("b");
  expect(lines()).toEqual(["rating a", "rating b"]);
  expect(sent.map((one) => one.path)).not.toContain("/api/b");
  answers = {};
  sent.length = 0;
  await act(() => flush());
  expect(sent.map((one) => one.path)).toEqual(["/api/a", "/api/b"]);
  expect(lines()).toEqual([]);
});

test("what is refused stays with its reason until someone has seen it, and holds up nothing", async () => {
  answers = { "/api/a": refuse(422, "Effort goes from 0 to 10.") };
  await rating("a");
  await rating("b");
  expect(lines()).toEqual(["rating a: Effort goes from 0 to 10."]);
  expect(arrived).toEqual(["b"]);
  await act(() => flush());
  expect(sent.filter((one) => one.path === "/api/a")).toHaveLength(1);
  await act(() => dismiss("a"));
  expect(lines()).toEqual([]);
});

test("it is tried again by itself after a while", async () => {
  vi.useFakeTimers();
  answers = { "/api/a": refuse(0, "The server does not answer.") };
  await rating("a");
  answers = {};
  await act(() => vi.advanceTimersByTimeAsync(3900));
  expect(arrived).toEqual([]);
  await act(() => vi.advanceTimersByTimeAsync(200));
  expect(arrived).toEqual(["a"]);
});

test("it is sent as soon as the browser says that there is a network", async () => {
  answers = { "/api/a": refuse(0, "The server does not answer.") };
  await rating("a");
  answers = {};
  await act(async () => void window.dispatchEvent(new Event("online")));
  expect(arrived).toEqual(["a"]);
});

test("what waits of somebody else is neither shown nor sent", async () => {
  answers = { "/api/a": refuse(0, "The server does not answer.") };
  await rating("a");
  answers = {};
  sent.length = 0;
  await show(8);
  expect(lines()).toEqual([]);
  expect(isWaiting("a")).toBe(false);
  expect(sent).toEqual([]);
  await show(7);
  expect(arrived).toEqual(["a"]);
});

test("what was changed on its way goes next, on the version that the answer told", async () => {
  const first = { changes: [{ athlete_id: 1, effort: 5, version: 3 }] };
  const second = { changes: [{ athlete_id: 1, effort: 6, version: 3 }] };
  let changed = false;
  answers = {
    "/api/a": () => {
      const item = kept.find((one) => one.key === "a");
      if (item && !changed) {
        changed = true;
        kept[kept.indexOf(item)] = { ...item, body: second } as Waiting;
      }
      return { rows: [{ athlete_id: 1, version: 4 }] };
    },
  };
  await rating("a", first);
  expect(kept.map((item) => item.body)).toEqual([{ changes: [{ athlete_id: 1, effort: 6, version: 4 }] }]);
  await act(() => flush());
  expect(sent.at(-1)?.body).toEqual({ changes: [{ athlete_id: 1, effort: 6, version: 4 }] });
  expect(kept).toEqual([]);
});

test("what a screen is working on is left to that screen, and sent when it is closed", async () => {
  const end = claim("grid");
  await rating("grid 1");
  await rating("other");
  expect(arrived).toEqual(["other"]);
  expect(isWaiting("grid 1")).toBe(true);
  await act(async () => end());
  await act(() => flush());
  expect(arrived).toEqual(["other", "grid 1"]);
});
