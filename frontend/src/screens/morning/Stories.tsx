import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Evidence, type Lane, type NoticeItem, type Problem } from "../../api/client";
import { ItemLine } from "../../charts/ItemLine";
import { LimitBar } from "../../charts/LimitBar";
import { Notch } from "../../charts/Notch";
import { TestSpark } from "../../charts/TestSpark";
import type { Place } from "../../frame/place";
import { nothingText, storiesOf } from "./words";

interface StoriesProps {
  place: Place;
  lane: Lane;
  tests: Evidence["tests"];
}

/** What was found, joined up by cause; what a call has answered is folded away. */
export function Stories({ place, lane, tests }: StoriesProps) {
  const isBeside = (notice: NoticeItem) => notice.strand === "beside" && notice.severity === "note";
  const speaking = lane.notices.filter((notice) => !notice.quiet && !isBeside(notice));
  const beside = lane.notices.filter(isBeside);
  const quiet = lane.notices.filter((notice) => notice.quiet && !isBeside(notice));
  return (
    <>
      {lane.notices.length === 0 && (
        <p className="notice" style={{ display: "block" }}>
          {nothingText(lane)}
        </p>
      )}
      {storiesOf(speaking).map((story) => (
        <section key={story.key} className="story" aria-label={story.name}>
          <h3>
            {story.name}
            {story.regions && <span> {story.regions}</span>}
          </h3>
          {story.notices.map((notice) => (
            <NoticeLines key={notice.code + notice.sentence} place={place} notice={notice}>
              {notice.severity !== "note" && <Picture notice={notice} felt={lane.felt} tests={tests} />}
            </NoticeLines>
          ))}
          {story.notices.some((notice) => notice.code === "overtraining") && (
            <RestTrial place={place} lane={lane} />
          )}
        </section>
      ))}
      {beside.length > 0 && (
        <details className="story" open={speaking.length === 0}>
          <summary>{beside.length} to know beside: asks for nothing by itself</summary>
          {beside.map((notice) => (
            <NoticeLines key={notice.code + notice.sentence} place={place} notice={notice} />
          ))}
        </details>
      )}
      {quiet.length > 0 && (
        <details className="story">
          <summary>
            {quiet.length} answered by the last call{speaking.length > 0 && ", unchanged since"}
          </summary>
          {quiet.map((notice) => (
            <NoticeLines key={notice.code + notice.sentence} place={place} notice={notice} />
          ))}
        </details>
      )}
    </>
  );
}

/** Days off to see whether they help: offered on suspicion, judged when they are over. */
function RestTrial({ place, lane }: { place: Place; lane: Lane }) {
  const queries = useQueryClient();
  const notice = lane.notices.find((one) => one.code === "overtraining");
  const path = { slug: place.squad.slug };
  const done = () => askAgain(queries, [place.squad.slug]);
  const start = useMutation<unknown, Problem, number>({
    mutationFn: (days) =>
      ask(
        api.POST("/api/squads/{slug}/rest-trials", {
          params: { path },
          body: { athlete_id: lane.athlete_id, from_day: place.squad.today, days },
        }),
      ),
    onSuccess: done,
  });
  const judge = useMutation<unknown, Problem, boolean>({
    mutationFn: (better) =>
      ask(
        api.POST("/api/squads/{slug}/rest-trials/judge", {
          params: { path },
          body: { athlete_id: lane.athlete_id, better },
        }),
      ),
    onSuccess: done,
  });
  if (!place.may("enter_reports") || place.day !== place.squad.today) return null;
  const problem = start.error ?? judge.error;
  const suspect = notice?.title === "Overtraining: suspect";
  const trial = notice?.title === "Rest trial";
  if (!suspect && !trial) return null;
  return (
    <p className="story-actions">
      {suspect &&
        [7, 14].map((days) => (
          <button key={days} type="button" className="text-button" onClick={() => start.mutate(days)}>
            Begin {days} days off
          </button>
        ))}
      {trial && notice?.severity === "act" && (
        <>
          <button type="button" className="text-button" onClick={() => judge.mutate(true)}>
            They are better
          </button>
          <button type="button" className="text-button" onClick={() => judge.mutate(false)}>
            They are not better
          </button>
        </>
      )}
      {problem && (
        <span role="alert" className="over">
          {problem.message}
        </span>
      )}
    </p>
  );
}

interface PictureProps {
  notice: NoticeItem;
  felt: Lane["felt"];
  tests: Evidence["tests"];
}

/** A small chart beside a notice, where a look says more than reading. */
function Picture({ notice, felt, tests }: PictureProps) {
  const { figure, value, unit } = notice;
  if (figure !== null && value !== null && (unit === "load" || unit === "share" || unit === "ratio"))
    return <LimitBar figure={figure} value={value} floor={notice.shape === "under"} />;
  const test = tests.find((one) => one.code === notice.about);
  if (test) return <TestSpark test={test} />;
  const worst = [...felt].sort((a, b) => (a.z ?? 0) - (b.z ?? 0))[0];
  if (["worn", "report_changed"].includes(notice.code) && worst) return <ItemLine felt={worst} width={96} />;
  return null;
}

interface NoticeLinesProps {
  place: Place;
  notice: NoticeItem;
  /** A small chart. */
  children?: ReactNode;
}

function NoticeLines({ place, notice, children }: NoticeLinesProps) {
  return (
    <section className="notice" aria-label={`${notice.severity}: ${notice.title}`}>
      <Notch shape={notice.shape} severity={notice.severity} size={16} />
      <div>
        {children && <div className="notice-picture">{children}</div>}
        <p style={{ fontWeight: notice.severity === "act" ? 600 : 400 }}>
          {notice.sentence} {notice.new && <small className="is-new">new</small>}
        </p>
        {notice.provenance && <p className="small">{notice.provenance}</p>}
        <p className="small" style={{ color: "var(--ink)" }}>
          {notice.clears}{" "}
          <Link
            className="text-button"
            to={`${place.to("/method")}#${notice.code}`}
            aria-label={`Rule of: ${notice.title}`}
          >
            rule
          </Link>
        </p>
      </div>
    </section>
  );
}
