import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { plannedQuery } from "../../api/queries/session";
import { longDay, plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";

const WEEKS = 8;

/** What a squad needs before its first morning, in order; what is there already is said to be. */
export function FirstSteps({ place }: { place: Place }) {
  const planned = useQuery(plannedQuery(place.squad.slug, plusDays(place.day, -28), 7 * WEEKS));
  const sessions = planned.data?.sessions.length ?? 0;
  const steps = [
    {
      to: place.to("/squad/accounts", { athlete: "many" }),
      may: place.may("link_athletes"),
      what: "Say who is in the squad",
      why: "Everybody from their own day on. Links for their phones can follow later.",
      there: "",
    },
    {
      to: place.to("/session/calendar", { session: "new" }),
      may: place.may("edit_entries"),
      what: "Put the week into the calendar",
      why: "Sessions with their minutes and effort, weekly where they repeat.",
      there: sessions > 0 ? `${sessions} around this day` : "",
    },
    {
      to: place.to("/season"),
      may: place.may("edit_entries"),
      what: "Say how the season goes",
      why: "When you prepare, compete and rest. It can be said later.",
      there: "",
    },
    {
      to: place.to("/squad/limits"),
      may: place.may("edit_limits"),
      what: "Look at the limits",
      why: "They are starting points with their sources: change what you do not agree on.",
      there: "",
    },
    {
      to: place.to("/squad/files"),
      may: place.may("import"),
      what: "Bring in the seasons you have",
      why: "A line for each person and day. Figures that still lack history say so.",
      there: "",
    },
  ].filter((step) => step.may);
  return (
    <section className="first-steps" aria-label="First steps">
      <h2 className="side-head">Nobody is in this squad on {longDay(place.day)}</h2>
      {steps.length === 0 ? (
        <p>Whoever runs the squad adds its athletes, each from a day on.</p>
      ) : (
        <ol>
          {steps.map((step) => (
            <li key={step.what}>
              <Link className="text-button" to={step.to}>
                {step.what}
              </Link>
              {step.there && <b> {step.there}</b>}
              <p className="quiet">{step.why}</p>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
