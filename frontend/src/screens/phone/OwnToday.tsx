import { useQuery } from "@tanstack/react-query";
import { api, ask } from "../../api/client";
import { ownTodayQuery } from "../../api/queries/phone";
import { clockTime, dayAndMonth } from "../../frame/days";
import * as say from "../../frame/numbers";
import { ShownLink } from "../../kit/ShownLink";
import { useDoing } from "../../kit/useDoing";
import { OwnReturn } from "./OwnReturn";

/** Today in plain words, and the own climb: week by week, and nobody to compare with. */
export function OwnToday({ slug, zone }: { slug: string; zone: string }) {
  const today = useQuery(ownTodayQuery(slug));
  const data = today.data;
  if (!data) return null;
  const most = Math.max(1, ...data.weeks.map((week) => week.load));
  const last = data.weeks.at(-1);
  return (
    <section className="own-today" aria-label="Today">
      <h2>Today</h2>
      {data.gate && <p className="own-gate">{data.gate}</p>}
      {data.called && <p className="own-called">{data.called}</p>}
      {data.plan.length + data.beside.length === 0 && !data.called && !data.gate && (
        <p>No session is planned.</p>
      )}
      {data.plan.map((session) => (
        <p key={session.starts_at}>
          <b>{clockTime(session.starts_at, zone)}</b> {session.title},{" "}
          {session.stands < session.minutes - 0.5
            ? `${say.short(session.stands)} of ${say.short(session.minutes)} min`
            : `${say.short(session.stands)} min`}
          {session.stands_effort < session.effort && `, effort at most ${say.short(session.stands_effort)}`}
        </p>
      ))}
      {data.beside.map((one) => (
        <p key={`${one.starts_at} ${one.said}`}>
          <b>{clockTime(one.starts_at, zone)}</b> {one.said}.
        </p>
      ))}
      {data.room && <p>{data.room}</p>}
      {data.back && <OwnReturn back={data.back} />}
      <OwnCalendar slug={slug} />
      {data.weeks.length > 1 && last && (
        <figure>
          <figcaption>
            Your weeks, up to {dayAndMonth(last.ends)}: {say.load(last.load)} in the last one
          </figcaption>
          <div
            className="own-weeks"
            role="img"
            aria-label={`Week loads: ${data.weeks.map((week) => say.load(week.load)).join(", ")}`}
          >
            {data.weeks.map((week) => (
              <i key={week.ends} style={{ height: `${(week.load / most) * 100}%` }} />
            ))}
          </div>
        </figure>
      )}
    </section>
  );
}

/** The own sessions in whatever calendar somebody keeps. */
function OwnCalendar({ slug }: { slug: string }) {
  const make = useDoing([slug, "feeds"], () =>
    ask(api.POST("/api/squads/{slug}/own/feed", { params: { path: { slug } } })),
  );
  if (make.data) return <ShownLink link={make.data.link} />;
  return (
    <p>
      <button type="button" className="text-button" onClick={() => make.mutate()}>
        Your sessions in your own calendar
      </button>{" "}
      A link; one from before stops working.
    </p>
  );
}
