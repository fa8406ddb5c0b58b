import type { Preview, Problem } from "../../api/client";
import { BeforeAfter } from "../../charts/BeforeAfter";
import { dayAndMonth } from "../../frame/days";
import * as say from "../../frame/numbers";
import { useWidth } from "../../frame/useWidth";

interface UnitPreviewProps {
  preview: Preview | undefined;
  stale: boolean;
  problem: Problem | Error | null;
  unit: string;
}

/** What the unit as it is typed would make of a real session and of the last eight weeks. Nothing is saved by it. */
export function UnitPreview({ preview, stale, problem, unit }: UnitPreviewProps) {
  const [ref, width] = useWidth(800);
  return (
    <section aria-label="What it would do" className="unit-preview" ref={ref} aria-busy={stale}>
      <h3>What it would do</h3>
      {!preview ? (
        <p className="quiet" style={{ margin: 0 }}>
          {problem ? "Shown as soon as the settings make sense." : "Choose the sessions that have such work."}
        </p>
      ) : (
        <div style={{ opacity: problem ? 0.5 : 1 }}>
          <p style={{ margin: "0 0 8px" }}>{preview.sentence}</p>
          <div className="preview-columns">
            <div>
              <BeforeAfter
                weeks={preview.weeks}
                width={Math.max(Math.min(width * 0.55 - 20, 560), 300)}
                height={170}
                unit={unit}
                tick={dayAndMonth}
              />
              <p className="quiet" style={{ margin: "2px 0 10px", fontSize: "var(--type-note)" }}>
                Mean week load of those who have any, last 8 weeks, {unit}. {preview.days_moved} of{" "}
                {preview.days} days differ.
              </p>
            </div>
            {preview.rows.length > 0 ? (
              <table className="preview-rows">
                <thead>
                  <tr>
                    <th scope="col">{preview.session_said}</th>
                    <th scope="col" className="number">
                      now
                    </th>
                    <th scope="col" className="number">
                      then
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {preview.rows.map((row) => (
                    <tr key={row.athlete_id}>
                      <td>{row.name}</td>
                      <td className="number figure quiet">{amount(row.before)}</td>
                      <td className="number figure">{amount(row.after)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            ) : (
              <p className="quiet" style={{ margin: 0 }}>
                No session of the last 8 weeks has such work recorded.
              </p>
            )}
          </div>
        </div>
      )}
    </section>
  );
}

const amount = (value: number | null) =>
  value === null ? "–" : value >= 1000 ? say.load(value) : value.toFixed(1);
