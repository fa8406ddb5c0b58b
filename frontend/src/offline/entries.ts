/** What can wait for a network: each kind with what the server needs of it, typed by the server's own document. */

import {
  api,
  ask,
  type CallBody,
  type EntryChange,
  type FieldEventBody,
  type ReportBody,
  rememberToken,
  send,
  type WorkChange,
} from "../api/client";

/** Counts up whenever an entry is written in another way; `upToDate` then learns to read the one before. */
export const VERSION = 2;

export type Sendable =
  | { what: "report"; slug: string; id: string; body: ReportBody }
  | { what: "ratings"; slug: string; session: string; body: { changes: EntryChange[] } }
  | { what: "work"; slug: string; session: string; body: { changes: WorkChange[] } }
  /** Noted at the pitch, and taken back there after it had been sent. */
  | { what: "field"; slug: string; session: string; body: { events: FieldEventBody[] } }
  | { what: "unfield"; slug: string; session: string; id: string; body: Record<string, never> }
  | { what: "call"; slug: string; body: CallBody }
  /** Of an earlier version, and of no kind that is known any more: sent as it was kept. */
  | { what: "other"; method: string; path: string; body: Record<string, unknown> };

export type Waiting = Sendable & {
  version: number;
  /** A change with the same key takes the place of the one before, but keeps its turn. */
  key: string;
  /** Whose it is: nobody else's sign-in sends it. */
  user: number;
  /** What it is, for people. */
  label: string;
  /** Why the server refused it, once it has. */
  refused?: string;
  turn?: number;
};

/** Sends one entry. Throws a Problem. */
export async function deliver(item: Sendable): Promise<unknown> {
  if (item.what === "other") return send(item.method, item.path, item.body);
  rememberToken((await ask(api.GET("/api/me"))).csrf_token);
  const { slug } = item;
  switch (item.what) {
    case "report":
      return ask(
        api.PUT("/api/squads/{slug}/own/reports/{report_id}", {
          params: { path: { slug, report_id: item.id } },
          body: item.body,
        }),
      );
    case "ratings":
      return ask(
        api.PATCH("/api/squads/{slug}/sessions/{session_id}/entries", {
          params: { path: { slug, session_id: item.session } },
          body: item.body,
        }),
      );
    case "field":
      return ask(
        api.POST("/api/squads/{slug}/sessions/{session_id}/field", {
          params: { path: { slug, session_id: item.session } },
          body: item.body,
        }),
      );
    case "unfield":
      return ask(
        api.DELETE("/api/squads/{slug}/sessions/{session_id}/field/{event_id}", {
          params: { path: { slug, session_id: item.session, event_id: item.id } },
        }),
      );
    case "call":
      return ask(api.POST("/api/squads/{slug}/calls", { params: { path: { slug } }, body: item.body }));
    case "work":
      return ask(
        api.PUT("/api/squads/{slug}/sessions/{session_id}/work", {
          params: { path: { slug, session_id: item.session } },
          body: item.body,
        }),
      );
  }
}

/** An entry as the first version kept it: the request as it was to be sent. */
interface First {
  version?: undefined;
  key: string;
  user: number;
  label: string;
  method: string;
  path: string;
  body: Record<string, unknown>;
  refused?: string;
  turn?: number;
}

const KINDS: [RegExp, (slug: string, id: string, body: never) => Sendable][] = [
  [
    /^\/api\/squads\/([^/]+)\/own\/reports\/([^/]+)$/,
    (slug, id, body) => ({ what: "report", slug, id, body }),
  ],
  [
    /^\/api\/squads\/([^/]+)\/sessions\/([^/]+)\/entries$/,
    (slug, session, body) => ({ what: "ratings", slug, session, body }),
  ],
  [
    /^\/api\/squads\/([^/]+)\/sessions\/([^/]+)\/work$/,
    (slug, session, body) => ({ what: "work", slug, session, body }),
  ],
];

/** An entry of any version as one of this: what somebody entered before an update goes out after it. */
export function upToDate(entry: unknown): Waiting {
  const kept = entry as Waiting | First;
  if (kept.version !== undefined) return kept;
  const { method, path, body, version: _none, ...rest } = kept;
  for (const [shape, made] of KINDS) {
    const [, slug, id] = shape.exec(path) ?? [];
    if (slug && id) return { ...rest, version: VERSION, ...made(slug, id, body as never) };
  }
  return { ...rest, version: VERSION, what: "other", method, path, body };
}
