import { Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { memo, useCallback, useMemo, useState } from "react";
import type { Lane, Morning, NoticeItem } from "../../api/client";
import { morningQuery } from "../../api/queries/morning";
import { ChannelMark } from "../../charts/ChannelMark";
import { longDay } from "../../frame/days";
import { useKeys } from "../../frame/keys";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useStable } from "../../frame/useStable";
import { CallSection } from "./CallSection";
import { DeskTools } from "./DeskTools";
import { EvidencePanel } from "./EvidencePanel";
import { FirstSteps } from "./FirstSteps";
import { Lanes } from "./Lanes";
import { MorningTabs } from "./MorningTabs";
import { useAsked } from "./useAsked";
import { inOrder, isKnown, orderOf, planNeeds, shown, stateText } from "./words";
import "./morning.css";
import "./evidence.css";

export default function MorningScreen({ place }: { place: Place }) {
  const morning = useQuery(morningQuery(place.squad.slug, place.day, place.get("channel"), isKnown(place)));
  const desk = useDesk(place, morning.data);
  const { data } = morning;
  if (morning.isError)
    return (
      <Message title="The morning could not be loaded" action="Try again" onAction={() => morning.refetch()}>
        {morning.error.message}
      </Message>
    );
  return (
    <>
      <MorningTabs place={place} />
      <div className="summary">
        {data ? (
          <Summary
            morning={data}
            mayCall={place.may("make_calls") && place.day >= place.squad.today}
            onOpen={desk.open}
          />
        ) : (
          <h1 className="quiet">Reading the loads …</h1>
        )}
        <WhichDay place={place} />
      </div>
      {data && data.lanes.length === 0 ? (
        <NobodyYet place={place} />
      ) : (
        <div className="desk">
          <div className="desk-main">
            {data && (
              <div className="desk-tools">
                {data.channels.length > 1 && <ChannelChoice morning={data} place={place} />}
                <DeskTools morning={data} place={place} />
              </div>
            )}
            {data && desk.lanes.length === 0 ? (
              <Message
                title="Nobody fits this filter"
                action="Show everyone"
                onAction={() => place.set({ show: null }, true)}
              >
                {data.lanes.length} are in the squad.
              </Message>
            ) : data ? (
              <Lanes
                morning={data}
                lanes={desk.lanes}
                chosen={desk.chosen}
                onChoose={desk.choose}
                place={place}
                order={desk.order}
                marked={desk.marked}
                onMark={desk.onMark}
              />
            ) : (
              <LanesLoading />
            )}
          </div>
          <Side place={place} desk={desk} />
        </div>
      )}
    </>
  );
}

/** Whom the desk shows in which order, who is chosen and who is marked, and the keys that move through them. */
function useDesk(place: Place, morning: Morning | undefined) {
  const order = orderOf(place.get("order"));
  const filter = place.get("show");
  const lanes = useMemo(() => inOrder(shown(morning?.lanes ?? [], filter), order), [morning, filter, order]);
  const [marked, setMarked] = useState<ReadonlySet<number>>(new Set());
  const onMark = useCallback((lane: Lane) => {
    setMarked((before) => {
      const after = new Set(before);
      if (!after.delete(lane.athlete_id)) after.add(lane.athlete_id);
      return after;
    });
  }, []);
  const { asked, ask } = useAsked(place);
  const at = indexOf(lanes, asked);
  const chosen = lanes[at];
  // The row is marked and its call offered at once; the evidence follows the address.
  const foundAt = indexOf(lanes, place.get("athlete"));
  const choose = useStable((lane: Lane | undefined) => {
    if (!lane) return;
    ask(String(lane.athlete_id));
    requestAnimationFrame(() =>
      document.getElementById(`lane-${lane.athlete_id}`)?.scrollIntoView({ block: "nearest" }),
    );
  });
  const next = useStable(() => choose(lanes[Math.min(at + 1, lanes.length - 1)]));
  const back = useStable(() => choose(lanes[Math.max(at - 1, 0)]));
  const clear = () => setMarked(new Set());
  /** Marks these people, so that one call is made for all, and shows the first of them. */
  const open = useStable((athletes: number[]) => {
    place.set({ show: null }, true);
    setMarked(new Set(athletes));
    ask(String(athletes[0]));
  });
  useKeys({
    j: next,
    k: back,
    ArrowDown: next,
    ArrowUp: back,
    x: () => chosen && onMark(chosen),
    Escape: () => (marked.size > 0 ? clear() : ask(null)),
    Enter: (event) => {
      // A link or button that has the focus does its own thing.
      if (event.target === document.body) choose(lanes[Math.max(at, 0)]);
      else if (event.target instanceof HTMLElement) event.target.click();
    },
  });
  return {
    order,
    lanes,
    chosen,
    found: lanes[foundAt],
    foundAt,
    marked,
    onMark,
    clear,
    open,
    choose,
    next,
    back,
  };
}

/** The day, as what it is shown, and the ways on from here. */
function WhichDay({ place }: { place: Place }) {
  const { today, slug } = place.squad;
  const past = isKnown(place) ? ", as it was known at 8" : ", as it is known now";
  return (
    <div className="summary-end">
      <span>
        {longDay(place.day)}
        {place.day === today ? "" : place.day > today ? ", as planned" : past}
      </span>
      {place.day < today && (
        <button
          type="button"
          className="text-button"
          onClick={() => place.set({ known: isKnown(place) ? null : "1" }, true)}
        >
          {isKnown(place) ? "Show what is known now" : "Show it as it was known"}
        </button>
      )}
      {place.may("export") && (
        <a className="text-button" href={`/api/squads/${slug}/daily-loads.csv?day=${place.day}`} download>
          Daily loads as CSV
        </a>
      )}
    </div>
  );
}

/** The evidence of whoever is chosen, and calling them. */
function Side({ place, desk }: { place: Place; desk: ReturnType<typeof useDesk> }) {
  const { lanes, chosen, found, marked } = desk;
  return (
    <aside className={`desk-side evidence${chosen ? "" : " closed"}`} aria-label="Evidence">
      {found ? (
        <EvidencePanel
          key={`${place.day} ${found.athlete_id}`}
          place={place}
          lane={found}
          at={desk.foundAt + 1}
          of={lanes.length}
          onNext={desk.next}
          onBack={desk.back}
        />
      ) : (
        <p className="quiet evidence-found">
          Pick an athlete to see what was found, what would clear it, and what each call comes to.{" "}
          <kbd>j</kbd> goes to the first.
        </p>
      )}
      {chosen && (
        <div className="evidence-call">
          <CallSection
            place={place}
            lane={chosen}
            settled={found === chosen}
            marked={lanes.filter((lane) => marked.has(lane.athlete_id))}
            onMark={desk.onMark}
            onCalled={desk.clear}
          />
        </div>
      )}
    </aside>
  );
}

const indexOf = (lanes: Lane[], athlete: string | null) =>
  lanes.findIndex((lane) => String(lane.athlete_id) === athlete);

/** Which kind of work the corridors and the room are of. */
const ChannelChoice = memo(function ChannelChoice({ morning, place }: { morning: Morning; place: Place }) {
  const main = morning.channels[0]?.code;
  return (
    <fieldset className="channel-choice">
      <legend className="visually-hidden">Corridor and room of</legend>
      {morning.channels.map((channel) => (
        <button
          key={channel.code}
          type="button"
          aria-pressed={channel.code === morning.channel.code}
          onClick={() => place.set({ channel: channel.code === main ? null : channel.code }, true)}
        >
          <ChannelMark mark={channel.mark} /> {channel.name}
        </button>
      ))}
    </fieldset>
  );
});

interface SummaryProps {
  morning: Morning;
  mayCall: boolean;
  onOpen: (athletes: number[]) => void;
}

/** What is said once for the squad, and how many people there are to look at. */
const Summary = memo(function Summary({ morning, mayCall, onOpen }: SummaryProps) {
  const { lanes, stories } = morning;
  const of = (group: Lane["group"]) => lanes.filter((lane) => lane.group === group && !lane.call).length;
  const has = (fits: (notice: NoticeItem) => boolean) =>
    lanes.filter((lane) => lane.notices.some(fits)).length;
  const missing = has(({ code }) => code === "rating_missing" || code === "rating_estimated");
  const fresh = has((notice) => notice.new && !notice.quiet && notice.strand !== "beside");
  const called = lanes.filter((lane) => lane.call).length;
  const reports = lanes.filter((lane) => lane.felt.length > 0).length;
  return (
    <div className="opening">
      {stories.map((story) => (
        <p key={story.sentence} className="squad-story">
          <b>{story.sentence}</b>{" "}
          {mayCall && (
            <button type="button" className="text-button" onClick={() => onOpen(story.athletes)}>
              Open the {story.athletes.length}
            </button>
          )}
        </p>
      ))}
      <h1>
        <b>{stateText(of("call"))}</b> {of("change") > 0 && `${planNeeds(of("change"))} `}
        <span>
          {called > 0 && `${called} called. `}
          {reports > 0 && `${reports} reports in. `}
          {fresh > 0 && `${fresh} with something new. `}
          {missing > 0 && `${missing} with ratings missing. `}
          {lanes.length} in the squad.
        </span>
      </h1>
    </div>
  );
});

function NobodyYet({ place }: { place: Place }) {
  const first = place.squad.first_day;
  if (first && place.day < first)
    return (
      <Message
        title="Nothing was recorded yet"
        action={`Go to ${longDay(place.squad.today)}`}
        onAction={() => place.set({ day: place.squad.today })}
      >
        The records of {place.squad.name} begin on {longDay(first)}.
      </Message>
    );
  return <FirstSteps place={place} />;
}

const ROWS = Array.from({ length: 12 }, (_, i) => `row ${i}`);

function LanesLoading() {
  return (
    <div role="status" aria-label="Loading the lanes">
      {ROWS.map((row) => (
        <div className="lane lane-grid" key={row}>
          <Skeleton height="16px" width="120px" />
          <Skeleton height="30px" />
          <Skeleton height="16px" width="150px" />
          <Skeleton height="16px" width="60px" />
        </div>
      ))}
    </div>
  );
}
