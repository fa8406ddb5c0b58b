import { Button } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { askAgain } from "../../../api/askAgain";
import { api, ask, type GameLike, type MatchTerms, type Problem } from "../../../api/client";
import { PatternLine } from "../../../charts/PatternLine";
import { mediumDay } from "../../../frame/days";
import * as say from "../../../frame/numbers";
import type { Place } from "../../../frame/place";
import { useToast } from "../../../frame/toast";
import { DrillList } from "../drills/DrillList";

type ToChange = GameLike["changes"][number];
const percent = (share: number) => `${Math.round(share * 100)} %`;

/** What would bring the session nearer to the game, what the coach hears, and the drills that are like it. */
export function Nearer({ place, terms }: { place: Place; terms: MatchTerms }) {
  const game = terms.game;
  return (
    <div className="nearer">
      {game && game.changes.length > 0 && (
        <section>
          <h2>
            To come nearer to the game <span>estimated</span>
          </h2>
          {game.changes.map((one) => (
            <Change key={one.part} place={place} one={one} />
          ))}
          {game.after !== null && game.overlap !== null && (
            <p className="nearer-sum">
              With {game.changes.length === 1 ? "it" : "both"}, about {percent(game.after)} like the game,
              from {percent(game.overlap)}.
            </p>
          )}
        </section>
      )}
      <CoachSheet slug={place.squad.slug} terms={terms} />
      {game && game.drills.length > 0 && (
        <DrillList drills={game.drills} here={terms.parts.map((part) => part.name)} />
      )}
    </div>
  );
}

function Change({ place, one }: { place: Place; one: ToChange }) {
  const { change } = one;
  const longest = Math.max(change.was_on + change.was_off, change.on + change.off, 60);
  return (
    <article className="nearer-change">
      <h3>
        {one.part}
        <span>
          like the game {Math.round(change.now * 100)} → about <b>{percent(change.after)}</b>
        </span>
      </h3>
      <p className="small quiet">
        done: {say.load(change.was_on)} s on, {say.load(change.was_off)} s off
      </p>
      <PatternLine on={change.was_on} off={change.was_off} seconds={longest * 2} />
      <p className="small">
        <b className="nearer-new">
          change: {change.on} s on, {change.off} s off
        </b>
      </p>
      <PatternLine on={change.on} off={change.off} seconds={longest * 2} planned />
      <p className="small quiet">
        The same {say.load(one.minutes)} minutes in {change.runs} short runs; between them as in a match:
        stand, then walk.
      </p>
      {one.next && place.may("plan") && <PutIt place={place} one={one} next={one.next} />}
    </article>
  );
}

interface PutItProps {
  place: Place;
  one: ToChange;
  next: NonNullable<ToChange["next"]>;
}

function PutIt({ place, one, next }: PutItProps) {
  const queries = useQueryClient();
  const toast = useToast();
  const slug = place.squad.slug;
  const put = useMutation<unknown, Problem, boolean>({
    mutationFn: (back) =>
      ask(
        api.PUT("/api/squads/{slug}/sessions/{session_id}/pattern", {
          params: { path: { slug, session_id: next.session_id } },
          body: { part: one.part, on: back ? null : one.change.on, off: back ? null : one.change.off },
        }),
      ),
    onSuccess: (_done, back) => {
      askAgain(queries, [slug]);
      toast(
        back ? "It is done as before." : `${one.part} on ${mediumDay(next.day)} is planned so.`,
        back ? undefined : () => put.mutate(true),
      );
    },
    onError: (problem) => toast(problem.message),
  });
  if (next.put) return <p className="small">In the plan of {mediumDay(next.day)}.</p>;
  return (
    <Button size="sm" loading={put.isPending} onClick={() => put.mutate(false)}>
      Put into the plan of {mediumDay(next.day)}
    </Button>
  );
}

/** What the coach hears, to be printed or taken along as text. */
function CoachSheet({ slug, terms }: { slug: string; terms: MatchTerms }) {
  const toast = useToast();
  const copy = () =>
    navigator.clipboard
      .writeText(terms.sentences.join("\n"))
      .then(() => toast("The sentences are copied."))
      .catch(() => toast("The browser does not let them be copied: print them instead."));
  return (
    <section className="coach-sheet" aria-label="For the coach">
      <h2>For the coach</h2>
      {terms.sentences.map((sentence) => (
        <p key={sentence}>{sentence}</p>
      ))}
      <div className="no-print">
        <button type="button" className="text-button" onClick={copy}>
          Copy as text
        </button>{" "}
        <button type="button" className="text-button" onClick={() => window.print()}>
          Print
        </button>{" "}
        <a
          className="text-button"
          href={`/api/squads/${slug}/sessions/${terms.session_id}/match-terms.pdf`}
          target="_blank"
          rel="noreferrer"
        >
          PDF
        </a>
      </div>
    </section>
  );
}
