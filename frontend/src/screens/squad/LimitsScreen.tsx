import { Button, Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Fragment, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type LimitItem, type Limits, type Problem } from "../../api/client";
import { limitsQuery } from "../../api/queries/squad";
import { ChannelMark } from "../../charts/ChannelMark";
import { longDay, mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Table } from "../../kit/Table";
import { LimitForm } from "./LimitForm";
import { SquadTabs } from "./SquadTabs";
import { SCHOOLS } from "./schools";
import type { LimitStart } from "./typedLimit";
import "./squad.css";

export default function LimitsScreen({ place }: { place: Place }) {
  const limits = useQuery(limitsQuery(place.squad.slug, place.day));
  const [start, setStart] = useState<LimitStart | null>(null);
  const end = useEndLimit(place);
  const may = place.may("edit_limits");
  if (limits.isError)
    return (
      <Message title="The limits could not be loaded" action="Try again" onAction={() => limits.refetch()}>
        {limits.error.message}
      </Message>
    );
  const data = limits.data;
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>Limits in force</b> on {longDay(place.day)}
        </h1>
        <div className="summary-end">
          {place.day < place.squad.today && <span>A past day: judged by these, then and now.</span>}
          {may && data && (
            <Button size="xs" onClick={() => setStart({ rule: data.rules[0]?.code ?? "", athlete: null })}>
              Set a limit
            </Button>
          )}
        </div>
      </div>
      <div className="desk">
        <div className="desk-main">
          {!data ? (
            <Skeleton height="300px" m="5" />
          ) : (
            <Table
              heads={["Limit", "For", "Value", "Since", "Set by, and why", { name: "Change", hidden: true }]}
              empty={{
                title: "No limit is in force",
                said: "Room and corridor are drawn from limits. Set the first one for the whole squad.",
              }}
            >
              {data.limits.map((limit, i) => (
                <Fragment key={limit.id}>
                  {limit.channel !== data.limits[i - 1]?.channel && (
                    <ChannelHead channel={data.channels.find((one) => one.code === limit.channel)} />
                  )}
                  <LimitRow limit={limit} may={may} onStart={setStart} onEnd={() => end.mutate(limit)} />
                </Fragment>
              ))}
            </Table>
          )}
        </div>
        <aside className={`desk-side${start ? "" : " closed"}`} aria-label="Set a limit">
          {start && data ? (
            <LimitForm
              key={JSON.stringify(start)}
              place={place}
              limits={data}
              start={start}
              onDone={() => setStart(null)}
            />
          ) : (
            <p className="quiet">
              The narrowest limit wins: one for an athlete before one for a position before the squad’s. A
              changed limit holds from its day on; days before stay judged as they were.
            </p>
          )}
        </aside>
      </div>
    </>
  );
}

interface LimitRowProps {
  limit: LimitItem;
  may: boolean;
  onStart: (start: LimitStart) => void;
  onEnd: () => void;
}

/** A limit with who set it and why, and what can be done with it. */
function LimitRow({ limit, may, onStart, onEnd }: LimitRowProps) {
  return (
    <tr className={limit.scope === "squad" ? undefined : "narrow"}>
      <td>
        <b style={{ fontWeight: 650 }}>{limit.title}</b>
        <div className="quiet">
          {limit.hard ? "hard" : "advisory"}
          {limit.school && `, ${SCHOOLS[limit.school]}`}
        </div>
      </td>
      <td>{limit.whom}</td>
      <td className="figure">{limit.said}</td>
      <td>
        {mediumDay(limit.from_day)} {limit.from_day.slice(0, 4)}
      </td>
      <td>
        {limit.set_by}
        {limit.reason && `: ${limit.reason}`}
        <div className="quiet">{limit.source}</div>
      </td>
      <td className="actions">
        {may && (
          <>
            <button type="button" className="text-button" onClick={() => onStart(startFrom(limit))}>
              Change
            </button>
            <br />
            {limit.scope === "squad" ? (
              <button
                type="button"
                className="text-button"
                onClick={() => onStart({ ...startFrom(limit), athlete: "choose" })}
              >
                For one athlete
              </button>
            ) : (
              <button type="button" className="text-button" onClick={onEnd}>
                End
              </button>
            )}
          </>
        )}
      </td>
    </tr>
  );
}

function ChannelHead({ channel }: { channel: Limits["channels"][number] | undefined }) {
  if (!channel) return null;
  return (
    <tr className="channel-head">
      <th scope="rowgroup" colSpan={6}>
        <ChannelMark mark={channel.mark} /> {channel.name} <span className="quiet">{channel.unit}</span>
      </th>
    </tr>
  );
}

const startFrom = (limit: LimitItem): LimitStart => ({
  rule: limit.rule,
  athlete: limit.athlete_id,
  like: limit,
});

function useEndLimit(place: Place) {
  const queries = useQueryClient();
  const toast = useToast();
  return useMutation<unknown, Problem, LimitItem>({
    mutationFn: (limit) =>
      ask(
        api.DELETE("/api/squads/{slug}/limits/{limit_id}", {
          params: { path: { slug: place.squad.slug, limit_id: limit.id } },
        }),
      ),
    onSuccess: (_done, limit) => {
      toast(`${limit.title} for ${limit.whom} is ended; the broader limit holds again.`);
      askAgain(queries, [place.squad.slug]);
    },
    onError: (problem) => toast(problem.message),
  });
}
