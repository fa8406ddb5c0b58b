import { Button } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Proposal, Week } from "../../api/client";
import { proposalsQuery } from "../../api/queries/week";
import { shortDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import type { useWeek } from "./useWeek";
import { byPerson, changesOf } from "./weekStates";

interface Props {
  place: Place;
  week: Week;
  of: ReturnType<typeof useWeek>;
}

/** The smallest changes with which the week holds, one at a time; tried on the grid, or saved. */
export function Proposals({ place, week, of }: Props) {
  const found = useQuery(proposalsQuery(place.squad.slug, place.day, week.edition, of.changes));
  const [at, setAt] = useState(0);
  const all = found.data?.proposals ?? [];
  const proposal = all[Math.min(at, all.length - 1)];
  return (
    <>
      {of.trying && <Tried of={of} />}
      {found.isPending && <p role="status">Looking for the smallest change …</p>}
      {found.isError && !of.wrong && <p className="over">{found.error.message}</p>}
      {proposal && (
        <>
          <p className="week-which">
            <b>Proposed change</b>
            {all.length > 1 && (
              <button
                type="button"
                className="text-button"
                onClick={() => setAt((before) => (before + 1) % all.length)}
              >
                {at + 1} of {all.length}, another
              </button>
            )}
          </p>
          <One proposal={proposal} of={of} />
        </>
      )}
    </>
  );
}

/** What is typed or tried, and saving it. */
function Tried({ of }: { of: Props["of"] }) {
  return (
    <section aria-label="Tried out" className="week-tried">
      <p>The grid shows what is tried out. Nothing of it is saved.</p>
      <Button size="sm" loading={of.apply.isPending} onClick={() => of.apply.mutate(of.changes)}>
        Apply to the plan
      </Button>
      {of.apply.error && (
        <p role="alert" className="over">
          {of.apply.error.message}
        </p>
      )}
    </section>
  );
}

function One({ proposal, of }: { proposal: Proposal; of: Props["of"] }) {
  const nothing = proposal.sessions.length + proposal.own.length === 0;
  const changes = changesOf(proposal, of.changes);
  return (
    <section aria-label="Proposal">
      <h2 className="week-said">{proposal.said}</h2>
      {proposal.give_way.length > 0 && (
        <ul className="over">
          {proposal.give_way.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
      {proposal.give_way.length > 0 && (
        <p className="quiet">
          Matches are not changed here: leave somebody out of one, or let a limit go, under Squad. The lines
          below are what can be done without.
        </p>
      )}
      {proposal.still_over.length > 0 && (
        <ul className="over">
          {proposal.still_over.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      )}
      {!proposal.proven && <p className="quiet">Time was up: there may be a smaller change.</p>}
      {proposal.sessions.length > 0 && (
        <dl className="week-lines">
          {proposal.sessions.map((one) => (
            <Line key={one.session_id} name={one.title} said={sessionSaid(one)} />
          ))}
        </dl>
      )}
      {proposal.own.length > 0 && (
        <>
          <h3>On their own line</h3>
          <dl className="week-lines">
            {byPerson(proposal.own).map(([name, own]) => (
              <Line
                key={name}
                name={name}
                said={own.map((one) => `${shortDay(one.day)} ${one.title} ${span(one)}`).join(", ")}
              />
            ))}
          </dl>
        </>
      )}
      {!nothing && (
        <div className="form-actions">
          {!of.trying && (
            <Button size="sm" loading={of.apply.isPending} onClick={() => of.apply.mutate(changes)}>
              Apply to the plan
            </Button>
          )}
          <Button size="sm" variant="outline" onClick={() => of.setChanges(changes)}>
            Try on the grid
          </Button>
        </div>
      )}
      {!of.trying && of.apply.error && (
        <p role="alert" className="over">
          {of.apply.error.message}
        </p>
      )}
      {proposal.holds && !nothing && proposal.still_over.length === 0 && (
        <p className="quiet">With all of it every limit holds.</p>
      )}
    </section>
  );
}

const span = (one: { before: number; after: number }) =>
  `${say.short(one.before)} to ${say.short(one.after)} min`;

/** What becomes of a session: its day where that is another, and its minutes where they are. */
function sessionSaid(one: Proposal["sessions"][number]) {
  if (!one.to) return `${shortDay(one.day)} ${span(one)}`;
  const day = `${shortDay(one.day)} to ${shortDay(one.to)}`;
  return one.before === one.after ? day : `${day}, ${span(one)}`;
}

function Line({ name, said }: { name: string; said: string }) {
  return (
    <div>
      <dt>{name}</dt>
      <dd>{said}</dd>
    </div>
  );
}
