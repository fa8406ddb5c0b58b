import { useState } from "react";
import type { Own, Pain } from "../../api/client";
import { BodyMap } from "./BodyMap";
import { placeName, type Region, samePlace } from "./bodySites";
import type { Filled } from "./filled";

interface PainStepProps {
  own: Own;
  filled: Filled;
  onChange: (filled: Filled) => void;
  onNext: () => void;
}

/** Pain or illness: mostly one tap to say that there is none. */
export function PainStep({ own, filled, onChange, onNext }: PainStepProps) {
  const [open, setOpen] = useState(filled.pains.length > 0 || filled.ill);
  const [place, setPlace] = useState<Pick<Region, "site" | "side"> | null>(null);
  const before = own.complaints
    .filter((one) => one.kind !== "illness" && one.site)
    .filter((one, i, all) => all.findIndex((other) => samePlace(one, other)) === i);
  if (!open)
    return (
      <section className="ask">
        <h1>Any pain or illness?</h1>
        <button type="button" className="big" onClick={onNext}>
          No, nothing
        </button>
        <button type="button" className="big" onClick={() => setOpen(true)}>
          Something hurts
        </button>
        <button
          type="button"
          className="big"
          onClick={() => {
            onChange({ ...filled, ill: true });
            setOpen(true);
          }}
        >
          I feel ill
        </button>
        {before.map((one) => (
          <button
            key={one.id}
            type="button"
            className="big again"
            onClick={() => {
              setOpen(true);
              if (one.site) setPlace({ site: one.site, side: one.side });
            }}
          >
            {placeName(one.site as Region["site"], one.side)} again, as on {one.day.slice(8)}.
            {one.day.slice(5, 7)}.
          </button>
        ))}
        <p className="quiet">Only the clinician reads this. Coaches learn what you may train, never why.</p>
      </section>
    );
  if (place)
    return (
      <section className="ask">
        <h1>How bad is the {placeName(place.site, place.side)}?</h1>
        <div className="hours tens">
          {Array.from({ length: 10 }, (_, i) => i + 1).map((severity) => (
            <button
              key={severity}
              type="button"
              aria-label={severity === 10 ? "10, the worst" : severity === 1 ? "1, hardly" : String(severity)}
              onClick={() => {
                const others = filled.pains.filter((pain) => !samePlace(pain, place));
                onChange({ ...filled, pains: [...others, { ...place, severity } as Pain] });
                setPlace(null);
              }}
            >
              {severity}
              <small>{severity === 1 ? " hardly" : severity === 10 ? " worst" : ""}</small>
            </button>
          ))}
        </div>
        <button type="button" className="skip" onClick={() => setPlace(null)}>
          Not here after all
        </button>
      </section>
    );
  return (
    <section className="ask">
      <h1>Where does it hurt?</h1>
      <BodyMap pains={filled.pains} onChoose={({ site, side }) => setPlace({ site, side })} />
      <ul className="pains">
        {filled.pains.map((pain) => (
          <li key={placeName(pain.site, pain.side)}>
            {placeName(pain.site, pain.side)}, {pain.severity} of 10{" "}
            <button
              type="button"
              className="text-button"
              aria-label={`Remove ${placeName(pain.site, pain.side)}`}
              onClick={() => onChange({ ...filled, pains: filled.pains.filter((one) => one !== pain) })}
            >
              remove
            </button>
          </li>
        ))}
      </ul>
      <label className="tick">
        <input
          type="checkbox"
          checked={filled.ill}
          onChange={(event) => onChange({ ...filled, ill: event.target.checked })}
        />
        I feel ill
      </label>
      <textarea
        aria-label="Words for the clinician"
        rows={2}
        maxLength={2000}
        placeholder="Words for the clinician, if you like"
        value={filled.clinicalWords}
        onChange={(event) => onChange({ ...filled, clinicalWords: event.target.value })}
      />
      <button type="button" className="next" onClick={onNext}>
        Next
      </button>
    </section>
  );
}
