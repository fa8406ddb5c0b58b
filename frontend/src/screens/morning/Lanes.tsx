import { useQuery } from "@tanstack/react-query";
import { scaleLinear } from "d3-scale";
import { type CSSProperties, memo, useDeferredValue } from "react";
import type { Lane, Morning, NoticeItem } from "../../api/client";
import { spineQuery } from "../../api/queries/frame";
import { ChannelMark } from "../../charts/ChannelMark";
import { CorridorStrip } from "../../charts/CorridorStrip";
import { Notch } from "../../charts/Notch";
import { Profile, ProfileHead, STEP } from "../../charts/Profile";
import { Words } from "../../charts/Words";
import { clockTime, dayAndMonth } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useWidth } from "../../frame/useWidth";
import { colour } from "../../theme/tokens";
import { callName, GROUPS, ORDERS, type Order, roomText, STANDS, stripSentence } from "./words";

interface LanesProps {
  morning: Morning;
  lanes: Lane[];
  chosen: Lane | undefined;
  onChoose: (lane: Lane) => void;
  place: Place;
  order: Order;
  marked: ReadonlySet<number>;
  onMark: (lane: Lane) => void;
}

/** Rows that are drawn at once. */
const AT_FIRST = 24;

export function Lanes({ morning, lanes, chosen, onChoose, place, order, marked, onMark }: LanesProps) {
  const [stripRef, width] = useWidth(420);
  const today = morning.days.indexOf(morning.as_of);
  // What a screen holds is drawn first, and the rows below it when there is time.
  const drawn = lanes.slice(0, useDeferredValue(lanes.length, AT_FIRST));
  const asked = lanes.find((lane) => lane.felt.length > 0)?.felt ?? [];
  const felt = asked.length > 0;
  const columns = (place.get("columns") ?? "").split(",").filter(Boolean);
  const extra = morning.channels.filter((channel) => columns.includes(channel.code));
  const style = {
    "--extra": extra.length ? `repeat(${extra.length}, 58px)` : "",
    "--felt": `${asked.length * STEP}px`,
  } as CSSProperties;
  const row = (lane: Lane) => (
    <LaneRow
      key={lane.athlete_id}
      lane={lane}
      today={today}
      width={width}
      chosen={lane === chosen}
      marked={marked.has(lane.athlete_id)}
      onChoose={onChoose}
      onMark={onMark}
      felt={felt}
      columns={place.get("columns") ?? ""}
      timeZone={place.squad.time_zone}
    />
  );
  return (
    <div className={`lanes${felt ? " with-felt" : ""}${extra.length ? " with-extra" : ""}`} style={style}>
      <div className="lane-grid lanes-head">
        <span>Athlete</span>
        {felt && (
          <span className="lane-felt">
            <ProfileHead felt={asked} />
          </span>
        )}
        <div ref={stripRef} className="lane-strip">
          <Axis days={morning.days} today={today} width={width} place={place} />
        </div>
        {extra.map((channel) => (
          <span key={channel.code} className="lane-extra" title={`Room on ${channel.name.toLowerCase()}`}>
            <ChannelMark mark={channel.mark} label={`Room on ${channel.name.toLowerCase()}`} />
          </span>
        ))}
        <span className="head-room">Room today</span>
        <span>Call</span>
      </div>
      {order !== "need" && <section aria-label={`By ${ORDERS[order]}`}>{drawn.map(row)}</section>}
      {(order === "need" ? GROUPS : []).map((group) => {
        const isIn = (lane: Lane) => lane.group === group.code;
        const inGroup = drawn.filter(isIn);
        if (inGroup.length === 0) return null;
        return (
          <section key={group.code} aria-label={group.name}>
            <h2 className="lane-group">
              {group.name} <span>{lanes.filter(isIn).length}</span>
            </h2>
            {inGroup.map(row)}
          </section>
        );
      })}
    </div>
  );
}

interface AxisProps {
  days: string[];
  today: number;
  width: number;
  place: Place;
}

/** Dates above the strips, a week apart, and the matches as diamonds. */
const Axis = memo(function Axis({ days, today, width, place }: AxisProps) {
  const spine = useQuery(spineQuery(place.squad.slug, place.day));
  const x = scaleLinear([0, days.length], [0, width]);
  const matches = new Set(
    spine.data?.days
      .filter((day) => day.sessions.some((session) => session.kind === "match"))
      .map((day) => day.day),
  );
  const from = spine.data?.days[0]?.day ?? "";
  // On a narrow axis the label at the very left would run into the next one.
  const roomy = x(7) > 64;
  return (
    <svg width={width} height="28" role="img" aria-label={`Days from ${days[0]} to ${days.at(-1)}`}>
      {days.map((day, i) => {
        const isNow = i === today;
        const weekly = (i - today) % 7 === 0 && !isNow && (i > 2 || roomy);
        return (
          <g key={day}>
            {weekly && (
              <Words x={x(i + 0.5)} y="25" textAnchor={anchor(i, days.length)}>
                {dayAndMonth(day)}
              </Words>
            )}
            {isNow && (
              <Words x={x(i)} y="25" textAnchor="middle" size="small" strong fill={colour.ink}>
                now
              </Words>
            )}
            {day >= from && matches.has(day) && (
              <path
                d={`M${x(i + 0.5)} 3l3.4 3.4l-3.4 3.4l-3.4 -3.4z`}
                fill={i < today ? colour.ink : "none"}
                stroke={colour.ink}
              />
            )}
          </g>
        );
      })}
    </svg>
  );
});

/** Labels at the ends stay inside the picture. */
function anchor(i: number, count: number): "start" | "middle" | "end" {
  if (i < 2) return "start";
  return i > count - 3 ? "end" : "middle";
}

interface LaneRowProps {
  lane: Lane;
  today: number;
  width: number;
  chosen: boolean;
  marked: boolean;
  onChoose: (lane: Lane) => void;
  onMark: (lane: Lane) => void;
  /** Whether there is a column of reports. */
  felt: boolean;
  /** Codes of the channels with a column of their own, as in the address. */
  columns: string;
  timeZone: string;
}

const LaneRow = memo(function LaneRow(props: LaneRowProps) {
  const { lane, today, width, chosen, marked, onChoose, onMark, felt, columns, timeZone } = props;
  const over = lane.room.load !== null && lane.room.plan > lane.room.load + 0.5;
  const bindsOver = lane.others.some(
    (other) => other.code === lane.binding && other.room.plan > (other.room.load ?? 0) + 0.5,
  );
  const binds = lane.others.find((other) => other.code === lane.binding);
  // What a call has answered asks for nothing any more.
  const speaking = lane.notices.filter((notice) => !notice.quiet);
  const rooms = [...lane.others, { code: "", room: lane.room }];
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the name is a button; the row is a larger target for the pointer
    // biome-ignore lint/a11y/noStaticElementInteractions: the same
    <div
      id={`lane-${lane.athlete_id}`}
      className={`lane lane-grid${chosen ? " chosen" : ""}${marked ? " marked" : ""}`}
      onClick={(event) => (event.ctrlKey || event.metaKey ? onMark(lane) : onChoose(lane))}
    >
      <div className="lane-name">
        {marked && <span className="mark-tick">✓</span>}
        <button type="button" aria-pressed={chosen}>
          <b>{lane.name}</b>
          <small>
            {lane.number} {lane.position}
            {speaking.some((notice) => notice.new) && <span className="is-new">new</span>}
          </small>
        </button>
        <Notches notices={speaking} strand="state" />
      </div>
      {felt && (
        <div className="lane-felt">
          {lane.felt.length > 0 ? <Profile felt={lane.felt} /> : <small>no report</small>}
        </div>
      )}
      <div className="lane-strip">
        <CorridorStrip
          strip={lane.strip}
          room={lane.room}
          today={today}
          width={width}
          label={stripSentence(lane, today)}
        />
      </div>
      {columns
        .split(",")
        .filter(Boolean)
        .map((code) => {
          const found = rooms.find((one) => one.code === code);
          return (
            <span key={code} className="lane-extra figure">
              {found
                ? found.room.closed
                  ? "closed"
                  : found.room.load === null
                    ? "–"
                    : say.room(found.room.load)
                : ""}
            </span>
          );
        })}
      <div className="lane-room">
        <Notches notices={speaking} strand="plan" />
        <span>
          <b className={lane.room.closed ? "closed" : undefined}>{roomText(lane)}</b>{" "}
          {!lane.room.closed
            ? lane.room.words.replace("no figure: ", "")
            : lane.room.plan === 0 &&
              lane.room.written > 0 && (
                <s title="Today’s plan does not stand">plan {say.load(lane.room.written)}</s>
              )}
        </span>
        {binds && bindsOver && !lane.room.closed ? (
          <small className="over">
            <ChannelMark mark={binds.mark} size={11} /> {binds.name}: {say.room(binds.room.load ?? 0)} left,{" "}
            {say.load(binds.room.plan)} planned
          </small>
        ) : (
          <small className={over ? "over" : undefined}>
            {binds && !over && lane.stands === "plan" ? (
              <>
                plan fits · <ChannelMark mark={binds.mark} size={11} /> {binds.name.toLowerCase()} bind
              </>
            ) : lane.room.closed ? (
              lane.room.words
            ) : (
              lane.room.plan_words
            )}
          </small>
        )}
      </div>
      <div className="lane-call">
        {lane.call ? (
          <>
            <b>{callName(lane.call.kind)}</b>
            <small>
              {lane.call.made_by.split(" ").at(-1)} {clockTime(lane.call.made_at, timeZone)}
            </small>
          </>
        ) : lane.group === "call" ? (
          <span className="to-call">to call</span>
        ) : lane.group === "change" ? (
          <span className="to-change">change</span>
        ) : (
          <small title={lane.said || undefined}>{STANDS[lane.stands]}</small>
        )}
      </div>
    </div>
  );
});

/** The marks of one strand: of the person beside the name, of the plan beside the room. The most pressing of each shape. */
function Notches({ notices, strand }: { notices: NoticeItem[]; strand: NoticeItem["strand"] }) {
  const mine = notices.filter((notice) => notice.strand === strand);
  const drawn = mine.filter((notice, i) => mine.findIndex((one) => one.shape === notice.shape) === i);
  return (
    <span className="notches">
      {drawn.map((notice) => (
        <Notch
          key={notice.shape}
          shape={notice.shape}
          severity={notice.severity}
          label={`${notice.severity}: ${notice.sentence}`}
        />
      ))}
    </span>
  );
}
