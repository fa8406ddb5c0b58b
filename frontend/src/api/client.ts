/** The typed client, and the server's errors as one kind of value. */

import createClient from "openapi-fetch";
import type { components, paths } from "./schema";
import { unchanged } from "./unchanged";

export type Me = components["schemas"]["MeOut"];
export type SquadInfo = Me["squads"][number];
export type Pasted = components["schemas"]["PastedOut"]["people"][number];
export type SessionPlan = components["schemas"]["SessionPlanOut"];
export type Planned = components["schemas"]["PlannedOut"];
export type Week = NonNullable<components["schemas"]["WeekOut"]>;
export type WeekRow = Week["rows"][number];
export type WeekCell = WeekRow["cells"][number];
export type WeekSession = Week["days"][number]["sessions"][number];
export type Proposal = components["schemas"]["ProposalsOut"]["proposals"][number];
export type AfterMatch = NonNullable<components["schemas"]["AfterMatchOut"]>;
export type AfterRow = AfterMatch["rows"][number];
type LighterWeeks = components["schemas"]["LighterWeeksOut"];
export type LighterDue = LighterWeeks["due"][number];
export type LighterStanding = LighterWeeks["standing"][number];
export type LighterLine = LighterDue["lines"][number];
export type ComparedWeek = NonNullable<components["schemas"]["ComparedOut"]>["weeks"][number];
export type OwnReturn = NonNullable<components["schemas"]["OwnTodayOut"]["back"]>;
export type ReturnTemplate = components["schemas"]["ReturnTemplatesOut"]["templates"][number];
export type Cases = components["schemas"]["CasesOut"];
export type Returns = components["schemas"]["ReturnsOut"];
export type ReturnRow = Returns["rows"][number];
export type ReturnWhole = components["schemas"]["ReturnWholeOut"];
export type ReturnStage = NonNullable<ReturnWhole["stage"]>;
export type ReturnCriterion = ReturnStage["criteria"][number];
export type ReturnWay = ReturnWhole["ways"][number];
export type SideRow = components["schemas"]["SidesOut"]["rows"][number];
export type NewReturn = components["schemas"]["NewReturnIn"];
export type ReturnChange = components["schemas"]["ReturnChangeIn"];
export type Block = NonNullable<components["schemas"]["BlockOut"]>;
export type WeekTemplates = components["schemas"]["TemplatesOut"];
export type WeekTemplate = WeekTemplates["templates"][number];
export type FitAsked = components["schemas"]["FitIn"];
export type TemplateFit = components["schemas"]["FitOut"];
export type BlockWant = components["schemas"]["PlanBlockIn"]["weeks"][number];
export type WeekPlanBody = components["schemas"]["WeekPlanIn"];
export type WeekChanges = Pick<WeekPlanBody, "sessions" | "own">;
export type Season = components["schemas"]["SeasonOut"];
export type SeasonPhase = Season["phases"][number];
export type PlannedSession = Planned["sessions"][number];
export type BeginSquad = components["schemas"]["BeginSquadOut"];
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
export type Turned = Review["calls"][number];
export type Timeline = components["schemas"]["TimelineOut"];
export type NoticeRun = components["schemas"]["NoticedOut"]["runs"][number];
export type Sheet = components["schemas"]["SheetOut"];
export type Review = components["schemas"]["ReviewOut"];
export type Notices = components["schemas"]["NoticesOut"];
export type NoticeKind = Notices["kinds"][number];
export type TuneBody = components["schemas"]["TuneIn"];
export type CallBody = components["schemas"]["CallIn"];
export type CallKind = Outcome["kind"];
export type Allowed = components["schemas"]["ComplaintAnswerIn.AllowedIn"];
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

export type Files = components["schemas"]["FilesOut"];
export type FileItem = Files["imports"][number];
export type FilePreview = components["schemas"]["FilePreviewOut"];
export type FileSpec = components["schemas"]["BringIn"]["spec"];
export type Recordings = components["schemas"]["RecordingsOut"];
export type RecordingItem = Recordings["recordings"][number];
export type Traces = components["schemas"]["TracesOut"];
export type Field = components["schemas"]["FieldOut"];
export type FieldEvent = Field["events"][number];
export type FieldEventBody = components["schemas"]["EventsIn.EventIn"];
export type Live = components["schemas"]["LiveOut"];
export type LiveLane = Live["lanes"][number];
export type MatchTerms = components["schemas"]["MatchTermsOut"];
export type WeekSpells = components["schemas"]["SpellsOut"];
export type Drill = components["schemas"]["DrillsOut"]["drills"][number];
export type Heat = components["schemas"]["HeatOut"];
export type GameLike = NonNullable<MatchTerms["game"]>;

export type Own = components["schemas"]["OwnOut"];
export type Due = Own["dues"][number];
export type Asked = Due["form"]["asked"][number];
export type ReportBody = components["schemas"]["ReportIn"];
export type Pain = NonNullable<ReportBody["pains"]>[number];
export type Site = Pain["site"];
export type Reports = components["schemas"]["ReportsOut"];
export type ReportRow = Reports["rows"][number];
export type ComplaintItem = NonNullable<Reports["complaints"]>[number];
export type Forms = components["schemas"]["FormsOut"];
export type FormBody = components["schemas"]["FormIn"];
export type People = components["schemas"]["SquadPeopleOut"];
export type Accounts = components["schemas"]["AccountsOut"];
export type Invited = components["schemas"]["InvitedOut"];
export type Account = components["schemas"]["AccountOut"];
export type Role = Accounts["users"][number]["role"];
export type TestItem = components["schemas"]["TestOut"];
export type TestDay = components["schemas"]["TestingDayOut"];
export type TestRow = TestDay["rows"][number];
export type AuditRow = components["schemas"]["AuditOut"]["rows"][number];

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
api.use(unchanged);

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

/** Send a body to an address that was kept with it; for what waited without a network. */
export async function send(method: string, path: string, body: unknown): Promise<unknown> {
  const renewed = await ask(api.GET("/api/me"));
  rememberToken(renewed.csrf_token);
  let response: Response;
  try {
    response = await fetch(path, {
      method,
      headers: { "Content-Type": "application/json", "X-CSRF-Token": csrfToken },
      body: JSON.stringify(body),
    });
  } catch {
    throw new Problem(0, "The server does not answer.");
  }
  const answer = (await response.json().catch(() => ({}))) as Record<string, unknown>;
  if (response.ok) return answer;
  throw new Problem(response.status, String(answer.detail ?? "The server answered with an error."), answer);
}

/** Send a file as it is; `tell` learns how much of it is on its way, 0 to 1. */
export function sendFile(
  slug: string,
  file: File,
  tell: (share: number) => void,
): Promise<components["schemas"]["PutDownOut"]> {
  return new Promise((resolve, reject) => {
    // Only this kind of request says how far an upload has come.
    const request = new XMLHttpRequest();
    request.open("POST", `/api/squads/${slug}/files?name=${encodeURIComponent(file.name)}`);
    request.setRequestHeader("X-CSRF-Token", csrfToken);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.responseType = "json";
    request.upload.onprogress = (event) => tell(event.total ? event.loaded / event.total : 0);
    request.onerror = () =>
      reject(new Problem(0, `${file.name} could not be sent: the server does not answer.`));
    request.onload = () => {
      const body = (request.response ?? {}) as Record<string, unknown>;
      if (request.status === 200) resolve(request.response);
      else reject(new Problem(request.status, String(body.detail ?? "The file was not taken."), body));
    };
    request.send(file);
  });
}
