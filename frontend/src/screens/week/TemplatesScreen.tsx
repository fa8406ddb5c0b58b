import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import type { WeekTemplate, WeekTemplates } from "../../api/client";
import { templatesQuery } from "../../api/queries/week";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { Loaded } from "../../kit/Loaded";
import { Beside } from "../../kit/Panel";
import { GiveTemplate } from "./GiveTemplate";
import { KeepTemplate } from "./KeepTemplate";
import { weekLines, writtenSaid } from "./templateStates";
import "./week.css";

/** Weeks that are kept to be planned again: for whom each was written, and given to somebody. */
export default function TemplatesScreen({ place }: { place: Place }) {
  const found = useQuery({ ...templatesQuery(place.squad.slug), enabled: place.may("plan") });
  if (!place.may("plan"))
    return (
      <Message title="Templates are kept by performance staff and coaches">
        Week shows what is planned.
      </Message>
    );
  const many = found.data?.templates.length;
  return (
    <>
      <div className="summary">
        <h1>
          {many === undefined
            ? "Templates"
            : many === 0
              ? "No template is kept yet"
              : many === 1
                ? "1 template"
                : `${many} templates`}
        </h1>
        <div className="summary-end">
          <button
            type="button"
            className="text-button"
            onClick={() => place.set({ keep: "1", template: null })}
          >
            Keep weeks as a template
          </button>
          <Link className="text-button" to={place.to("/week")}>
            Back to the week
          </Link>
        </div>
      </div>
      <Loaded query={found} failed="The templates could not be loaded">
        {(data) => <Kept place={place} data={data} />}
      </Loaded>
    </>
  );
}

function Kept({ place, data }: { place: Place; data: WeekTemplates }) {
  const chosen = data.templates.find((one) => one.id === place.get("template"));
  const keeping = place.get("keep") !== null || data.templates.length === 0;
  return (
    <Beside
      label={chosen ? "Give this template" : "Keep weeks as a template"}
      open={Boolean(chosen) || keeping}
      panel={
        chosen ? (
          <GiveTemplate key={chosen.id} place={place} template={chosen} sport={data.sport} />
        ) : keeping ? (
          <KeepTemplate place={place} sport={data.sport} />
        ) : (
          <p className="quiet">Choose a template to give it to the squad or to somebody.</p>
        )
      }
    >
      <ul className="templates">
        {data.templates.map((one) => (
          <One
            key={one.id}
            one={one}
            chosen={one === chosen}
            onChoose={() => place.set({ template: one.id, keep: null })}
          />
        ))}
      </ul>
    </Beside>
  );
}

interface OneProps {
  one: WeekTemplate;
  chosen: boolean;
  onChoose: () => void;
}

function One({ one, chosen, onChoose }: OneProps) {
  return (
    <li>
      <button type="button" className="text-button plain" aria-pressed={chosen} onClick={onChoose}>
        {one.name}
      </button>
      {!one.own && <span className="quiet"> from {one.squad}</span>}
      <p>{writtenSaid(one)}</p>
      {weekLines(one).map((line, week) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a week's place in the template
        <p key={week} className="quiet">
          {one.weeks > 1 && `Week ${week + 1}: `}
          {line || "nothing"}
        </p>
      ))}
    </li>
  );
}
