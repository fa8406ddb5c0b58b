import { useState } from "react";
import type { Pain } from "../../api/client";
import { placeName, type Region, regionsOf, samePlace, type View } from "./bodySites";

interface BodyMapProps {
  pains: Pain[];
  onChoose: (region: Pick<Region, "site" | "side">) => void;
}

/** Front and back of a body, to say where; every place is also in the list below it. */
export function BodyMap({ pains, onChoose }: BodyMapProps) {
  const [view, setView] = useState<View>("front");
  const regions = regionsOf(view);
  return (
    <div className="body-map">
      <div className="pair">
        {(["front", "back"] as const).map((one) => (
          <button key={one} type="button" aria-pressed={view === one} onClick={() => setView(one)}>
            {one === "front" ? "Front" : "Back"}
          </button>
        ))}
      </div>
      <svg viewBox="0 0 120 262" role="group" aria-label={`Body from the ${view}`}>
        <text x="8" y="12">
          {view === "front" ? "right" : "left"}
        </text>
        <text x="112" y="12" textAnchor="end">
          {view === "front" ? "left" : "right"}
        </text>
        {regions.map((region) => {
          const said = pains.find((pain) => samePlace(pain, region));
          const name = placeName(region.site, region.side);
          return (
            <path
              key={name}
              d={region.path}
              transform={region.mirrored ? "translate(120) scale(-1 1)" : undefined}
              className={said ? "said" : ""}
              role="button"
              tabIndex={0}
              aria-label={said ? `${name}, ${said.severity} of 10` : name}
              aria-pressed={Boolean(said)}
              onClick={() => onChoose(region)}
              onKeyDown={(event) => {
                if (event.key === "Enter" || event.key === " ") {
                  event.preventDefault();
                  onChoose(region);
                }
              }}
            />
          );
        })}
      </svg>
      <label className="from-list">
        Or choose from the list{" "}
        <select
          value=""
          onChange={(event) => {
            const [site, side] = event.target.value.split("|");
            onChoose({ site: site as Region["site"], side: (side || null) as Region["side"] });
          }}
        >
          <option value="">…</option>
          {[
            ...new Map(
              [...regionsOf("front"), ...regionsOf("back")].map((one) => [
                placeName(one.site, one.side),
                one,
              ]),
            ),
          ]
            .sort(([one], [other]) => one.localeCompare(other))
            .map(([name, one]) => (
              <option key={name} value={`${one.site}|${one.side ?? ""}`}>
                {name}
              </option>
            ))}
        </select>
      </label>
    </div>
  );
}
