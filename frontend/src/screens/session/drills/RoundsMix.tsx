import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useDeferredValue, useId } from "react";
import { mixQuery } from "../../../api/queries/session";
import { aimOf, gradesOf, type Line, withGrades } from "./partsPlan";

interface Props {
  slug: string;
  lines: Line[];
  /** What the rounds are to come to, in per cent, as it is typed. */
  aim: string;
  onAim: (aim: string) => void;
  onChange: (lines: Line[]) => void;
}

/** How hard graded rounds are in all, and the grades that come to the aim. */
export function RoundsMix({ slug, lines, aim, onAim, onChange }: Props) {
  const id = useId();
  const grades = useDeferredValue(gradesOf(lines));
  const wanted = aimOf(aim);
  const asked = grades.length > 0 && wanted !== undefined;
  const found = useQuery({
    ...mixQuery(slug, grades, wanted ?? 1),
    enabled: asked,
    placeholderData: keepPreviousData,
  });
  const mix = asked ? found.data : undefined;
  const other = mix && mix.nearest.join() !== gradesOf(lines).join() && mix.nearest;
  return (
    <section aria-label="Intensity of the rounds" className="rounds-mix">
      <label htmlFor={id}>
        Aim of the rounds{" "}
        <input
          id={id}
          aria-invalid={wanted === undefined}
          inputMode="numeric"
          value={aim}
          onChange={(event) => onAim(event.target.value)}
        />{" "}
        % of full intensity
      </label>
      {wanted === undefined && " "}
      {wanted === undefined && (
        <span role="alert" className="field-error">
          An aim is 20 to 100 %.
        </span>
      )}
      {grades.length === 0 && <p className="quiet">Grade the parts that are rounds, 1 to 5.</p>}
      {mix && (
        <p role="status">
          {mix.said}{" "}
          {other && (
            <button type="button" className="text-button" onClick={() => onChange(withGrades(lines, other))}>
              Let them be {other.join(", ")}
            </button>
          )}
        </p>
      )}
    </section>
  );
}
