import { Button, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Problem, type TemplateFit, type WeekTemplate } from "../../api/client";
import { templateFitQuery, weekQuery } from "../../api/queries/week";
import { isDay, plusDays } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled, Select } from "../../kit/fields";
import { useDoing } from "../../kit/useDoing";
import { fitLines } from "./templateStates";

interface Props {
  place: Place;
  template: WeekTemplate;
  sport: string;
}

/** A template for the squad or for somebody: what is other than it was written for, then its sessions are planned. */
export function GiveTemplate({ place, template, sport }: Props) {
  const { slug } = place.squad;
  const people = useQuery(weekQuery(slug, place.day, null));
  const [who, setWho] = useState("");
  const [first, setFirst] = useState(plusDays(place.day, 7));
  const [said, setSaid] = useState(sport);
  const body = { first, athlete_id: who ? Number(who) : null, sport: said.trim() };
  const fit = useQuery({ ...templateFitQuery(slug, template.id, body), enabled: isDay(first) });
  const problem = fit.error as Problem | null;
  const wrong = (field: string) => (isDay(first) ? problem?.of(field) : undefined);
  return (
    <>
      <h2 className="form-head">{template.name}</h2>
      <div className="form-rows">
        <Labelled label="For whom" error={wrong("athlete_id") ?? null}>
          <Select size="sm" label="For whom" value={who} onChange={setWho}>
            <option value="">the squad</option>
            {people.data?.rows.map((one) => (
              <option key={one.athlete_id} value={one.athlete_id}>
                {one.name}
              </option>
            ))}
          </Select>
        </Labelled>
        <Labelled
          label="From the week of"
          error={isDay(first) ? (wrong("first") ?? null) : "A day of the first week."}
        >
          <Input size="sm" type="date" value={first} onChange={(event) => setFirst(event.target.value)} />
        </Labelled>
        {template.written.sport && (
          <Labelled label="Their sport" error={wrong("sport") ?? null}>
            <Input size="sm" maxLength={40} value={said} onChange={(event) => setSaid(event.target.value)} />
          </Labelled>
        )}
      </div>
      {problem && problem.errors.length === 0 && (
        <p role="alert" className="field-error">
          {problem.message}
        </p>
      )}
      {fit.data && !problem && isDay(first) && (
        <Fits place={place} template={template} fit={fit.data} body={body} settling={fit.isPlaceholderData} />
      )}
      {template.own && <Remove place={place} template={template} />}
    </>
  );
}

interface FitsProps {
  place: Place;
  template: WeekTemplate;
  fit: TemplateFit;
  body: { first: string; athlete_id: number | null; sport: string };
  /** What is shown is that of what was asked before. */
  settling: boolean;
}

function Fits({ place, template, fit, body, settling }: FitsProps) {
  const { slug } = place.squad;
  const toast = useToast();
  const back = useDoing([slug], (made: string[]) =>
    ask(
      api.POST("/api/squads/{slug}/week/templates/take-back", { params: { path: { slug } }, body: { made } }),
    ),
  );
  const use = useDoing(
    [slug],
    () =>
      ask(
        api.POST("/api/squads/{slug}/week/templates/{template_id}/use", {
          params: { path: { slug, template_id: template.id } },
          body: { ...body, differs: fit.differs },
        }),
      ),
    ({ made }) =>
      toast(`${made.length === 1 ? "1 session is" : `${made.length} sessions are`} planned.`, () =>
        back.mutate(made),
      ),
  );
  const left = fit.sessions.length - fit.there;
  return (
    <section aria-label="What differs" aria-busy={settling} className="week-after">
      <h2>{fit.differs.length > 0 ? `Not as written, for ${fit.whom}` : `As written, for ${fit.whom}`}</h2>
      {fit.differs.length > 0 ? (
        <ul className="template-differs">
          {fit.differs.map((line) => (
            <li key={line}>{line}</li>
          ))}
        </ul>
      ) : (
        <p className="quiet">Nothing that was said of whom it was written for is other here.</p>
      )}
      <dl className="week-lines">
        {fitLines(fit).map((one) => (
          <div key={one.key}>
            <dt>{one.day}</dt>
            <dd>{one.said}</dd>
          </div>
        ))}
      </dl>
      {fit.there > 0 && <p className="quiet">{fit.there} of them stand in the calendar already.</p>}
      <div className="form-actions">
        <Button
          size="sm"
          disabled={settling || left === 0}
          loading={use.isPending}
          onClick={() => use.mutate()}
        >
          {left === 0 ? "All of it is planned" : fit.differs.length > 0 ? "Plan it nevertheless" : "Plan it"}
        </Button>
      </div>
    </section>
  );
}

function Remove({ place, template }: { place: Place; template: WeekTemplate }) {
  const { slug } = place.squad;
  const toast = useToast();
  const path = { params: { path: { slug, template_id: template.id } } };
  const back = useDoing([slug, "templates"], () =>
    ask(api.POST("/api/squads/{slug}/week/templates/{template_id}/put-back", path)),
  );
  const remove = useDoing(
    [slug, "templates"],
    () => ask(api.DELETE("/api/squads/{slug}/week/templates/{template_id}", path)),
    () => toast(`${template.name} is taken away.`, () => back.mutate()),
  );
  return (
    <p className="template-away">
      <button type="button" className="text-button" onClick={() => remove.mutate()}>
        Take this template away
      </button>
    </p>
  );
}
