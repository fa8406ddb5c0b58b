import { Button, Input } from "@chakra-ui/react";
import { useInfiniteQuery } from "@tanstack/react-query";
import { type AuditRow, api, ask } from "../../api/client";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Labelled, Select } from "../../kit/fields";
import { Table } from "../../kit/Table";
import { SquadTabs } from "./SquadTabs";
import "./squad.css";
import "./accounts.css";

const KINDS = {
  "": "everything",
  clinical: "clinical data, seen or changed",
  report: "reports",
  limit: "limits",
  entries: "ratings",
  channel: "units",
  invit: "invitations",
  member: "the squad’s athletes",
  athlete: "copies, nameless, erased",
  club: "the club’s choices",
  sign_in: "sign-ins",
  password: "passwords",
  second_factor: "second factors",
  account: "accounts switched on or off",
} as const;

const MOST = 200;

interface Asked {
  action: string;
  first: string | null;
  last: string | null;
  before: number | null;
}

/** Rows of a squad's audit, or of the club's. */
const read = (slug: string | null, query: Asked) =>
  slug === null
    ? ask(api.GET("/api/club/audit", { params: { query } }))
    : ask(api.GET("/api/squads/{slug}/audit", { params: { path: { slug }, query } }));

/** Who saw or changed what, newest first. It is only ever added to. */
export default function AuditScreen({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const action = place.get("kind") ?? "";
  const first = place.get("first") ?? "";
  const last = place.get("last") ?? "";
  const ofClub = place.may("run_club") && place.get("of") === "club";
  const audit = useInfiniteQuery({
    queryKey: [slug, "audit", ofClub, action, first, last],
    queryFn: ({ pageParam }: { pageParam: number | null }) =>
      read(ofClub ? null : slug, { action, first: first || null, last: last || null, before: pageParam }),
    initialPageParam: null,
    getNextPageParam: (page) => (page.rows.length === MOST ? (page.rows.at(-1)?.id ?? null) : null),
  });
  const rows = audit.data?.pages.flatMap((page) => page.rows) ?? [];
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary audit-head">
        <h1>{ofClub ? "Who came in, and what the club decided" : "Who saw or changed what"}</h1>
        <div className="summary-end">
          {place.may("run_club") && (
            <button
              type="button"
              className="text-button"
              style={{ whiteSpace: "nowrap" }}
              onClick={() => place.set({ of: ofClub ? null : "club" }, true)}
            >
              {ofClub ? `Of ${place.squad.name}` : "Of the whole club"}
            </button>
          )}
          <Select label="What" value={action} onChange={(value) => place.set({ kind: value || null }, true)}>
            {Object.entries(KINDS).map(([code, name]) => (
              <option key={code} value={code}>
                {name}
              </option>
            ))}
          </Select>
          <Labelled label="From">
            <Input
              size="xs"
              type="date"
              value={first}
              onChange={(e) => place.set({ first: e.target.value || null }, true)}
            />
          </Labelled>
          <Labelled label="To">
            <Input
              size="xs"
              type="date"
              value={last}
              onChange={(e) => place.set({ last: e.target.value || null }, true)}
            />
          </Labelled>
        </div>
      </div>
      <div className="desk-main">
        {audit.isError ? (
          <Message title="The audit could not be loaded" action="Try again" onAction={() => audit.refetch()}>
            {audit.error.message}
          </Message>
        ) : (
          <Table
            heads={["When", "Who", "What", "Athlete", "More"]}
            empty={
              audit.isSuccess
                ? { title: "Nothing of this kind", said: "Choose other days, or everything." }
                : undefined
            }
          >
            {rows.map((row) => (
              <Row key={row.id} row={row} zone={place.squad.time_zone} />
            ))}
          </Table>
        )}
        {audit.hasNextPage && (
          <p style={{ padding: "0 var(--margin)" }}>
            <Button
              size="sm"
              variant="outline"
              loading={audit.isFetchingNextPage}
              onClick={() => audit.fetchNextPage()}
            >
              Older ones
            </Button>
          </p>
        )}
      </div>
    </>
  );
}

function Row({ row, zone }: { row: AuditRow; zone: string }) {
  const moment = new Intl.DateTimeFormat("en-GB", {
    dateStyle: "medium",
    timeStyle: "short",
    timeZone: zone,
  });
  const more = Object.entries(row.details)
    .filter(([, value]) => typeof value !== "object")
    .map(([name, value]) => `${name.replaceAll("_", " ")} ${value}`)
    .join(", ");
  return (
    <tr>
      <td className="figure">{moment.format(new Date(row.at))}</td>
      <td>{row.who ?? <span className="quiet">by itself</span>}</td>
      <td>{row.action.replaceAll("_", " ")}</td>
      <td>{row.athlete}</td>
      <td className="quiet">{more.slice(0, 120)}</td>
    </tr>
  );
}
