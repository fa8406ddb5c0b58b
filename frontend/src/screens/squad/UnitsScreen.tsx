import { Button, Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { ChannelItem, Channels } from "../../api/client";
import { channelsQuery } from "../../api/queries/squad";
import { ChannelMark } from "../../charts/ChannelMark";
import { longDay, mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Beside } from "../../kit/Panel";
import { Table } from "../../kit/Table";
import { Places } from "./Places";
import { SquadTabs } from "./SquadTabs";
import { UnitForm } from "./UnitForm";
import "./squad.css";

/** The main channel takes every kind that there is: a list of them says nothing. */
const inWhich = (kinds: string[]) => (kinds.length > 7 ? "all" : kinds.join(", "));

/** The squad's kinds of work, and how each becomes load. */
export default function UnitsScreen({ place }: { place: Place }) {
  const channels = useQuery(channelsQuery(place.squad.slug, place.day));
  const [editing, setEditing] = useState<ChannelItem | "new" | null>(null);
  if (channels.isError)
    return (
      <Message title="The units could not be loaded" action="Try again" onAction={() => channels.refetch()}>
        {channels.error.message}
      </Message>
    );
  const data = channels.data;
  const may = place.may("edit_units");
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>Units of work</b> on {longDay(place.day)}
        </h1>
        <div className="summary-end">
          {may && data && (
            <Button size="xs" onClick={() => setEditing("new")}>
              New unit
            </Button>
          )}
        </div>
      </div>
      {!data ? (
        <Skeleton height="300px" m="5" />
      ) : editing ? (
        <UnitForm
          key={editing === "new" ? "new" : editing.code + editing.definition.id}
          place={place}
          data={data}
          channel={editing === "new" ? null : editing}
          onDone={() => setEditing(null)}
        >
          <UnitsTable place={place} data={data} onChange={setEditing} />
        </UnitForm>
      ) : (
        <Beside label="Unit of work" open={false} panel={<WhatAUnitSays />}>
          <UnitsTable place={place} data={data} onChange={setEditing} />
          <Places place={place} places={data.places} />
        </Beside>
      )}
    </>
  );
}

function WhatAUnitSays() {
  return (
    <p className="quiet">
      A unit says what a session costs. While you change a weight, the effect on a real session and on the
      last 8 weeks is shown; nothing moves until it is saved. A changed unit holds from its day on.
    </p>
  );
}

interface UnitsTableProps {
  place: Place;
  data: Channels;
  onChange: (channel: ChannelItem) => void;
}

function UnitsTable({ place, data, onChange }: UnitsTableProps) {
  const may = place.may("edit_units");
  return (
    <Table heads={["Unit", "How it becomes load", "Since", { name: "Change", hidden: true }]}>
      {data.channels.map((channel) => (
        <tr key={channel.code}>
          <td style={{ minWidth: 190 }}>
            <ChannelMark mark={channel.mark} /> <b style={{ fontWeight: 650 }}>{channel.name}</b>
            <div className="quiet">
              {channel.unit} · {channel.level}
              {channel.is_main && " · main"}
            </div>
            <div className="quiet">{channel.regions.join(", ")}</div>
          </td>
          <td>
            {channel.definition.sentence}
            <div className="quiet">
              In {inWhich(channel.definition.kinds)} sessions. {channel.published}.
            </div>
          </td>
          <td style={{ whiteSpace: "nowrap" }}>
            {channel.definition.from_day < "2001" ? (
              "always"
            ) : (
              <>
                {mediumDay(channel.definition.from_day)} {channel.definition.from_day.slice(0, 4)}
              </>
            )}
            <div className="quiet">{channel.definition.set_by}</div>
            {channel.history.length > 1 && <div className="quiet">{channel.history.length} definitions</div>}
          </td>
          <td className="actions">
            {may && (
              <button
                type="button"
                className="text-button"
                aria-label={`Change ${channel.name}`}
                onClick={() => onChange(channel)}
              >
                Change
              </button>
            )}
          </td>
        </tr>
      ))}
    </Table>
  );
}
