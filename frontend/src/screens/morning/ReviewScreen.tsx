import { Skeleton } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import type { Turned } from "../../api/client";
import { reviewQuery } from "../../api/queries/morning";
import { mediumDay, monthName, plusDays } from "../../frame/days";
import { Message } from "../../frame/Message";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { MorningTabs } from "./MorningTabs";
import { adaptText, callName } from "./words";
import "../squad/squad.css";
import "./review.css";

const KEPT = { kept: "as called", harder: "felt harder", more: "more", less: "less", "": "" } as const;

/** A month of calls: what was called, whether it was kept, and how the next mornings were. */
export default function ReviewScreen({ place }: { place: Place }) {
  const review = useQuery(reviewQuery(place.squad.slug, place.day));
  if (review.isError)
    return (
      <Message title="The calls could not be loaded" action="Try again" onAction={() => review.refetch()}>
        {review.error.message}
      </Message>
    );
  const data = review.data;
  const calls = data?.calls ?? [];
  const known = calls.filter((call) => call.kept !== "");
  const month = data ? monthName(data.first) : "";
  return (
    <>
      <MorningTabs place={place} />
      <div className="summary">
        {data ? (
          <h1>
            <b>{calls.length === 1 ? "1 call" : `${calls.length} calls`}</b> in {month}
            {known.length > 0 &&
              `, ${known.filter((call) => call.kept === "kept").length} of ${known.length} kept as called`}
          </h1>
        ) : (
          <h1 className="quiet">Reading the calls …</h1>
        )}
        {data && (
          <div className="summary-end">
            <button
              type="button"
              className="text-button"
              onClick={() => place.set({ day: plusDays(data.first, -1) })}
            >
              Month before
            </button>
            {data.last < place.squad.today && (
              <button
                type="button"
                className="text-button"
                onClick={() => place.set({ day: plusDays(data.last, 1) })}
              >
                Month after
              </button>
            )}
            <button type="button" className="text-button" onClick={() => window.print()}>
              Print
            </button>
          </div>
        )}
      </div>
      {!data ? (
        <Skeleton height="300px" m="5" />
      ) : calls.length === 0 ? (
        <Message
          title={`No call was made in ${month}`}
          action="Go to the desk"
          onAction={() => place.go("/morning")}
        >
          Calls made on the desk are listed here with what came of them.
        </Message>
      ) : (
        <table className="plain-table review-table">
          <thead>
            <tr>
              <th scope="col">Day</th>
              <th scope="col">Athlete</th>
              <th scope="col">Call</th>
              <th scope="col">Why</th>
              <th scope="col" className="number">
                Called
              </th>
              <th scope="col" className="number">
                Done
              </th>
              <th scope="col">Kept</th>
              <th scope="col">Two mornings later</th>
            </tr>
          </thead>
          <tbody>
            {calls.map((one) => (
              <Row key={one.call.id} one={one} place={place} />
            ))}
          </tbody>
        </table>
      )}
      <p className="quiet review-note">
        As called is within 15 % of the minutes called, or 5 min; felt harder is the same minutes at an effort
        1.5 or more above the one called. What happened after a call is not proof of what it did.
      </p>
    </>
  );
}

function Row({ one, place }: { one: Turned; place: Place }) {
  return (
    <tr>
      <td>
        <button
          type="button"
          className="text-button plain"
          onClick={() => place.go("/morning", { day: one.day, athlete: String(one.athlete_id) })}
        >
          {mediumDay(one.day)}
        </button>
      </td>
      <td>{one.name}</td>
      <td>
        <b>{callName(one.call.kind)}</b> {adaptText(one.call)}
        {one.call.reply && <div className="quiet">Clinician: {one.call.reply}</div>}
      </td>
      <td>
        {one.call.reason} <span className="quiet">{one.call.made_by}</span>
      </td>
      <td className="number figure">{one.called === null ? "" : say.load(one.called)}</td>
      <td className="number figure">{one.done === null ? "" : say.load(one.done)}</td>
      <td className={one.kept === "more" || one.kept === "harder" ? "over" : undefined}>{KEPT[one.kept]}</td>
      <td>{one.after}</td>
    </tr>
  );
}
