import { Button, Input } from "@chakra-ui/react";
import { useState } from "react";
import { api, ask, type ReturnWay, type ReturnWhole } from "../../api/client";
import { ClimbStrip } from "../../charts/ClimbStrip";
import { plusDays, shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { minutesSaid, WAY_LINES } from "./returnStates";

/** Three ways to a date that does not fit, line by line; none is chosen for anybody. */
export function Ways({ place, whole }: { place: Place; whole: ReturnWhole }) {
  const of = useWays(place, whole);
  const picked = whole.ways.find(({ kind }) => kind === of.picked);
  return (
    <section aria-label="Three ways" className="return-ways">
      <table>
        <thead>
          <tr>
            <th scope="col">If it stays short</th>
            {whole.ways.map((way) => (
              <th key={way.kind} scope="col">
                {of.may(way) ? (
                  <button type="button" className="text-button" onClick={() => of.pick(way.kind)}>
                    {way.title}
                  </button>
                ) : (
                  way.title
                )}
                {way.possible && <Small whole={whole} way={way} />}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {WAY_LINES.map(([name, title]) => (
            <tr key={name}>
              <th scope="row">{title}</th>
              {whole.ways.map((way) => (
                <td key={way.kind}>{way[name]}</td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {picked && <Take way={picked} of={of} />}
    </section>
  );
}

function Small({ whole, way }: { whole: ReturnWhole; way: ReturnWay }) {
  const climb = {
    ...whole.row,
    weeks: way.weeks,
    target: way.target ?? whole.row.target,
    reached: way.kind === "part" ? whole.row.reached : 100,
  };
  return (
    <ClimbStrip
      climb={climb}
      from={plusDays(whole.row.first_day, -14)}
      to={whole.to_day}
      today={whole.today}
      label={`${way.title}: ${way.load}`}
      width={180}
      height={34}
    />
  );
}

/** What is asked before a way is taken. */
function Take({ way, of }: { way: ReturnWay; of: ReturnType<typeof useWays> }) {
  const [words, setWords] = useState("");
  const reason = way.kind === "quicker";
  return (
    <div className="return-take">
      {way.kind === "part" && (
        <p>
          {way.matches.map((one) => (
            <span key={one.session_id}>
              {shortDay(one.day)} {one.name} <b>{one.minutes} min</b>
              {"; "}
            </span>
          ))}
          each of them goes into Week for this athlete.
        </p>
      )}
      {way.kind !== "part" && (
        <Labelled label={reason ? "Why it may be shorter; this stands with your name" : "Why (optional)"}>
          <Input size="sm" value={words} maxLength={300} onChange={(event) => setWords(event.target.value)} />
        </Labelled>
      )}
      <div className="form-actions">
        <Button
          size="sm"
          loading={of.pending}
          disabled={reason && !words.trim()}
          onClick={() => of.take(way, words)}
        >
          {way.title}
        </Button>
        <button type="button" className="text-button" onClick={() => of.pick(null)}>
          Leave it short
        </button>
      </div>
    </div>
  );
}

/** Taking a way: another date, other steps, or part of matches, each to be undone. */
function useWays(place: Place, whole: ReturnWhole) {
  const { slug } = place.squad;
  const toast = useToast();
  const [picked, pick] = useState<string | null>(null);
  const path = { params: { path: { slug, plan_id: whole.row.plan_id } } };
  const stood = {
    target_day: whole.row.target,
    needed: whole.needed,
    school: whole.school as "standard" | "slower" | "faster",
    shares: whole.own_steps ? whole.shares : null,
  };
  const change = useDoing(
    [slug],
    (what: Partial<typeof stood> & { words: string; version: number }) =>
      ask(api.PUT("/api/squads/{slug}/return/{plan_id}", { ...path, body: { ...stood, ...what } })),
    (_, what) => {
      pick(null);
      toast("The plan is changed.", () =>
        change.mutate({ ...stood, words: "as it was before", version: what.version + 1 }),
      );
    },
  );
  const minutes = useDoing(
    [slug],
    (matches: { session_id: string; minutes: number | null }[]) =>
      ask(api.PUT("/api/squads/{slug}/return/{plan_id}/minutes", { ...path, body: { matches } })),
    (before, matches) => {
      pick(null);
      toast(
        `${minutesSaid({ matches: whole.ways.find(({ kind }) => kind === "part")?.matches ?? [] })} planned.`,
        () => minutes.mutate(before.matches.length === matches.length ? before.matches : []),
      );
    },
  );
  return {
    picked,
    pick,
    pending: change.isPending || minutes.isPending,
    may: (way: ReturnWay) => way.possible && place.may(way.kind === "part" ? "plan" : "plan_returns"),
    take: (way: ReturnWay, words: string) => {
      const { version } = whole;
      if (way.kind === "part")
        minutes.mutate(way.matches.map((one) => ({ session_id: one.session_id, minutes: one.minutes })));
      else if (way.kind === "later") change.mutate({ target_day: way.target, words, version });
      else change.mutate({ shares: way.shares, words, version });
    },
  };
}
