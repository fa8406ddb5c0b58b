// @vitest-environment jsdom

import { beforeEach, expect, test, vi } from "vitest";
import { deliver, upToDate, VERSION } from "./entries";

// The client takes the browser's fetch when it is loaded.
const server = vi.hoisted(() => {
  const made = { answer: async (_request: Request) => new Response() };
  globalThis.fetch = (to, more) =>
    made.answer(new Request(to instanceof Request ? to : new URL(to, "http://localhost:3000"), more));
  return made;
});

const kept = { key: "k", user: 7, label: "a rating", turn: 3 };
const asked: { method: string; path: string; token: string | null; body: unknown }[] = [];

beforeEach(() => {
  asked.length = 0;
  server.answer = async (request) => {
    const path = new URL(request.url).pathname;
    if (path === "/api/me") return Response.json({ csrf_token: "fresh" });
    const token = request.headers.get("X-CSRF-Token");
    asked.push({ method: request.method, path, token, body: await request.json() });
    return Response.json({ rows: [] });
  };
});

/** Entries as the first version kept them, and as they are kept now. */
const OLD = [
  {
    method: "PUT",
    path: "/api/squads/lynx/own/reports/01A",
    body: { kind: "daily", answers: { mood: 6 } },
    now: { what: "report", slug: "lynx", id: "01A" },
  },
  {
    method: "PATCH",
    path: "/api/squads/lynx/sessions/01B/entries",
    body: { changes: [{ athlete_id: 1, minutes: 60, effort: 5, version: 2 }] },
    now: { what: "ratings", slug: "lynx", session: "01B" },
  },
  {
    method: "PUT",
    path: "/api/squads/lynx/sessions/01C/work",
    body: { changes: [{ athlete_id: 1, what: "counted", data: { items: [] }, version: null }] },
    now: { what: "work", slug: "lynx", session: "01C" },
  },
];

test.each(OLD)("what an earlier version kept goes where it was to go: $now.what", async (old) => {
  const { now, ...request } = old;
  const entry = upToDate({ ...kept, ...request });
  expect(entry).toEqual({ ...kept, ...now, body: request.body, version: VERSION });
  await deliver(entry);
  expect(asked).toEqual([{ ...request, token: "fresh" }]);
});

test("of a kind that is known no more it is sent as it was kept", async () => {
  const request = { method: "POST", path: "/api/squads/lynx/gone", body: { a: 1 } };
  await deliver(upToDate({ ...kept, ...request }));
  expect(asked).toEqual([{ ...request, token: "fresh" }]);
});

test("an entry of this version stays as it is", () => {
  const entry = upToDate({ ...kept, ...OLD[0] });
  expect(upToDate(entry)).toBe(entry);
});
