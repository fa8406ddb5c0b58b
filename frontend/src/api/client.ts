/** The typed client, and the server's errors as one kind of value. */

import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

export type Me = components["schemas"]["MeOut"];
export type SquadInfo = Me["squads"][number];
export type Spine = components["schemas"]["SpineOut"];
export type SpineDay = Spine["days"][number];
export type SpineSession = SpineDay["sessions"][number];
export type Morning = components["schemas"]["MorningOut"];
export type Lane = Morning["lanes"][number];
export type Strip = Lane["strip"];
export type Room = Lane["room"];
export type NoticeItem = Lane["notices"][number];
export type CallItem = NonNullable<Lane["call"]>;
export type Evidence = components["schemas"]["EvidenceOut"];
export type Outcome = Evidence["outcomes"][number];
export type CallKind = Outcome["kind"];
export type Grid = components["schemas"]["GridOut"];
export type GridRow = Grid["rows"][number];
export type EntryChange = components["schemas"]["EntriesIn"]["changes"][number];
export type Limits = components["schemas"]["LimitsOut"];
export type LimitItem = Limits["limits"][number];
export type RuleItem = Limits["rules"][number];
export type NewLimit = components["schemas"]["LimitIn"];

export type Channels = components["schemas"]["ChannelsOut"];
export type ChannelItem = Channels["channels"][number];
export type ChannelName = Morning["channels"][number];
export type Draft = components["schemas"]["PreviewIn"]["draft"];
export type Preview = components["schemas"]["PreviewOut"];
export type Anchors = components["schemas"]["AnchorsOut"];
export type AnchorItem = Anchors["anchors"][number];
export type NewAnchor = components["schemas"]["AnchorIn"];
export type SessionWork = components["schemas"]["SessionWorkOut"];
export type WorkRow = SessionWork["rows"][number];
export type WorkChange = components["schemas"]["WorksIn"]["changes"][number];

let csrfToken = "";

export function rememberToken(token: string) {
  csrfToken = token;
}

export const api = createClient<paths>({ baseUrl: window.location.origin });

api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-CSRF-Token", csrfToken);
    return request;
  },
});

export interface FieldError {
  field: string;
  detail: string;
}

/** What went wrong, in a sentence, with the fields at fault. `status` 0 is a server that did not answer. */
export class Problem extends Error {
  readonly status: number;
  readonly errors: FieldError[];
  readonly body: Record<string, unknown>;

  constructor(status: number, detail: string, body: Record<string, unknown> = {}) {
    super(detail);
    this.status = status;
    this.body = body;
    this.errors = Array.isArray(body.errors) ? (body.errors as FieldError[]) : [];
  }

  of(field: string): string | undefined {
    return this.errors.find((error) => error.field === field)?.detail;
  }
}

interface Answer<T> {
  data?: T;
  error?: unknown;
  response: Response;
}

/** The data of an answer; throws a Problem for everything else. */
export async function ask<T>(answer: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await answer;
  } catch {
    throw new Problem(0, "The server does not answer. What you typed is kept here.");
  }
  if (got.response.ok && got.data !== undefined) return got.data;
  const body = (got.error ?? {}) as Record<string, unknown>;
  const detail = typeof body.detail === "string" ? body.detail : "The server answered with an error.";
  throw new Problem(got.response.status, detail, body);
}
