import createClient from "openapi-fetch";
import { beforeEach, expect, test, vi } from "vitest";
import { forgetAnswers, unchanged } from "./unchanged";

/** A server that knows one version of each address, and the tags it was asked with. */
function server() {
  const state = { version: 1, asked: [] as (string | null)[] };
  const fetch = vi.fn(async (request: Request) => {
    const tag = `W/"${state.version}"`;
    const known = request.headers.get("If-None-Match");
    state.asked.push(known);
    if (known === tag) return new Response(null, { status: 304, headers: { ETag: tag } });
    return Response.json({ version: state.version }, { headers: { ETag: tag } });
  });
  const client = createClient<Record<string, never>>({ baseUrl: "http://here", fetch });
  client.use(unchanged);
  // biome-ignore lint/suspicious/noExplicitAny: the addresses of this server are nobody's
  const get = async (path: string) => (await (client as any).GET(path)).data;
  return { state, get };
}

beforeEach(forgetAnswers);

test("what has not changed is given from memory", async () => {
  const { state, get } = server();
  expect(await get("/morning")).toEqual({ version: 1 });
  expect(await get("/morning")).toEqual({ version: 1 });
  expect(state.asked).toEqual([null, 'W/"1"']);
});

test("what has changed is taken anew, and that one is kept", async () => {
  const { state, get } = server();
  await get("/morning");
  state.version = 2;
  expect(await get("/morning")).toEqual({ version: 2 });
  expect(await get("/morning")).toEqual({ version: 2 });
  expect(state.asked).toEqual([null, 'W/"1"', 'W/"2"']);
});

test("after signing out nothing is left, and of many addresses only the last are", async () => {
  const { state, get } = server();
  await get("/morning");
  forgetAnswers();
  await get("/morning");
  expect(state.asked).toEqual([null, null]);
  for (let i = 0; i < 40; i++) await get(`/day/${i}`);
  await get("/morning");
  expect(state.asked.at(-1)).toBeNull();
  await get("/day/39");
  expect(state.asked.at(-1)).toBe('W/"1"');
});
