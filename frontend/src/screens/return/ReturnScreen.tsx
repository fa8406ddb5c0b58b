import { useQuery } from "@tanstack/react-query";
import type { Returns } from "../../api/client";
import { returnQuery, returnsQuery } from "../../api/queries/return";
import { ClimbFills } from "../../charts/ClimbSteps";
import { longDay } from "../../frame/days";
import { useKeys } from "../../frame/keys";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { BeginReturn } from "./BeginReturn";
import { CaseLog } from "./CaseLog";
import { EditStages } from "./EditStages";
import { GiveOut } from "./GiveOut";
import { ReturnList } from "./ReturnList";
import { ReturnPlan } from "./ReturnPlan";
import { beside, chosenOf, isComing } from "./returnStates";
import { SidesPanel } from "./SidesPanel";
import { SquadBreak } from "./SquadBreak";
import { StagePanel } from "./StagePanel";
import { Summary } from "./Summary";
import "./return.css";

/** Who comes back: where they stand, whether it fits, what they may do today, what moves them on. */
export default function ReturnScreen({ place }: { place: Place }) {
  const returns = useQuery(returnsQuery(place.squad.slug, place.day));
  const may = place.may("plan_returns");
  return (
    <>
      <ClimbFills />
      <div className="summary">
        <h1>{returns.data?.said ?? "…"}</h1>
        <div className="summary-end">
          {longDay(place.day)}
          <button type="button" className="text-button" onClick={() => place.set({ begin: "sheet" })}>
            Sheet and files
          </button>
          {place.may("read_reports") && (
            <button type="button" className="text-button" onClick={() => place.set({ begin: "sides" })}>
              Sides
            </button>
          )}
          {place.may("read_clinical") && (
            <button type="button" className="text-button" onClick={() => place.set({ begin: "cases" })}>
              Log
            </button>
          )}
          {may && (
            <>
              <button type="button" className="text-button" onClick={() => place.set({ begin: "one" })}>
                Begin a plan
              </button>
              <button type="button" className="text-button" onClick={() => place.set({ begin: "squad" })}>
                A break of the whole squad
              </button>
            </>
          )}
        </div>
      </div>
      <Loaded query={returns} failed="Plans to come back could not be loaded">
        {(data) => <Desk place={place} returns={data} reading={returns.isFetching} />}
      </Loaded>
    </>
  );
}

function Desk({ place, returns, reading }: { place: Place; returns: Returns; reading: boolean }) {
  const { rows } = returns;
  const coming = isComing(rows, place.get("plan"), reading);
  const chosen = coming ? undefined : chosenOf(rows, place.get("plan"), place.get("athlete"));
  const begin = place.get("begin");
  const choose = (plan: string | undefined) => plan && place.set({ plan, begin: null }, true);
  useKeys({
    j: () => choose(beside(rows, chosen, 1)?.plan_id),
    k: () => choose(beside(rows, chosen, -1)?.plan_id),
  });
  const whole = useQuery({
    ...returnQuery(place.squad.slug, place.day, chosen?.plan_id ?? ""),
    enabled: chosen !== undefined,
  });
  return (
    <div className="return-desk">
      <ReturnList place={place} returns={returns} chosen={chosen?.plan_id} onChoose={choose} />
      <div className="return-main">
        {chosen ? (
          <Loaded query={whole} failed="The plan could not be loaded">
            {(data) => <ReturnPlan place={place} whole={data} at={rows.indexOf(chosen)} of={rows.length} />}
          </Loaded>
        ) : coming ? (
          <p className="quiet">Reading the plan …</p>
        ) : (
          <Message title="Nobody is on the way back">
            {place.may("plan_returns")
              ? "Begin a plan for somebody who was out, is new, or will have a break."
              : "Plans to come back are begun by clinicians and performance staff."}
          </Message>
        )}
      </div>
      <aside className="return-side" aria-label="Stage and criteria">
        {begin === "one" ? (
          <BeginReturn place={place} />
        ) : begin === "squad" ? (
          <SquadBreak place={place} />
        ) : begin === "cases" ? (
          <CaseLog place={place} />
        ) : begin === "sides" ? (
          <SidesPanel place={place} />
        ) : begin === "sheet" ? (
          <GiveOut place={place} returns={returns} />
        ) : begin === "stages" && whole.data && place.may("edit_clinical") ? (
          <EditStages key={whole.data.row.plan_id} place={place} whole={whole.data} />
        ) : begin === "summary" && whole.data && place.may("edit_clinical") ? (
          <Summary key={whole.data.row.plan_id} place={place} whole={whole.data} />
        ) : (
          chosen && whole.data && <StagePanel key={whole.data.row.plan_id} place={place} whole={whole.data} />
        )}
      </aside>
    </div>
  );
}
