import { Button } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import type { Grid } from "../../../api/client";
import { drillsQuery } from "../../../api/queries/session";
import type { Place } from "../../../frame/place";
import { Beside } from "../../../kit/Panel";
import { DrillList } from "./DrillList";
import { PartLines } from "./PartLines";
import { aimOf, type Line, sumSaid, withDrill, wrongWith } from "./partsPlan";
import { RoundsMix } from "./RoundsMix";
import { usePartsPlan } from "./usePartsPlan";
import "./drills.css";

/** The parts of a session to come: typed, or taken from the drills the squad has done. */
export function PartsPlan({ place, grid }: { place: Place; grid: Grid }) {
  const drills = useQuery(drillsQuery(place.squad.slug, place.day));
  const of = usePartsPlan(place.squad.slug, grid);
  const { lines } = of;
  const [tried, setTried] = useState(false);
  const [made, setMade] = useState(0);
  const add = (next: Line[]) => {
    of.setLines(next);
    setMade(made + 1);
  };
  const send = (how: () => void) => {
    setTried(true);
    if (!lines.some((_, i) => wrongWith(lines, i)) && aimOf(of.aim) !== undefined) how();
  };
  const graded = grid.kind === "rounds" || lines.some((line) => line.grade !== "");
  const panel =
    drills.data && drills.data.drills.length > 0 ? (
      <DrillList
        drills={drills.data.drills}
        match={drills.data.match}
        here={lines.map((line) => line.name)}
        onPut={(drill) => add(withDrill(lines, drill, `put ${made}`))}
      />
    ) : (
      <p className="quiet">
        Parts of sessions that were done stand here, with what a minute of each comes to.
      </p>
    );
  return (
    <Beside label="Drills" panel={panel}>
      <form
        className="parts-plan"
        noValidate
        onSubmit={(event) => {
          event.preventDefault();
          send(of.save);
        }}
      >
        <PartLines
          lines={lines}
          said={tried}
          names={drills.data?.drills ?? []}
          graded={graded}
          onChange={of.setLines}
        />
        <p>
          <button
            type="button"
            className="text-button"
            onClick={() =>
              add([...lines, { key: `typed ${made}`, name: "", minutes: "", weight: "2", grade: "" }])
            }
          >
            Add a part
          </button>{" "}
          {lines.length > 0 && <span className="quiet">{sumSaid(lines, grid.planned_minutes)}</span>}
        </p>
        {graded && lines.length > 0 && (
          <RoundsMix
            slug={place.squad.slug}
            lines={lines}
            aim={of.aim}
            onAim={of.setAim}
            onChange={of.setLines}
          />
        )}
        {of.other && (
          <p role="alert">
            Somebody changed the parts meanwhile: {grid.segments.map((one) => one.name).join(", ") || "none"}.{" "}
            <button type="button" className="text-button" onClick={of.adopt}>
              Take theirs
            </button>{" "}
            <button type="button" className="text-button" onClick={() => send(of.replace)}>
              Mine replace them
            </button>
          </p>
        )}
        {!of.other && (
          <div className="form-actions">
            <Button type="submit" size="sm" loading={of.pending} disabled={!of.changed}>
              Save the parts
            </Button>
            {of.changed && (
              <button type="button" className="text-button" onClick={of.adopt}>
                Leave them as they were
              </button>
            )}
          </div>
        )}
      </form>
    </Beside>
  );
}
