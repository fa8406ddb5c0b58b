import { Button, Input, Textarea } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { ulid } from "ulid";
import { askAgain } from "../../api/askAgain";
import { api, ask, Problem, type ReportRow, type Reports } from "../../api/client";
import { formsQuery } from "../../api/queries/reports";
import { mediumDay } from "../../frame/days";
import * as say from "../../frame/numbers";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Labelled, Select, typedNumber } from "../../kit/fields";
import { clubNow } from "../../offline/clock";
import { placeName, regionsOf } from "../phone/bodySites";
import { type AllowedDraft, AllowedFields, allowedOf } from "./AllowedFields";
import { HEADS, trainingText } from "./reports";

interface PanelProps {
  place: Place;
  reports: Reports;
  row: ReportRow;
}

/** One athlete: their words, their week, what is missing, how much they may train. */
export function ReportPanel({ place, reports, row }: PanelProps) {
  const toast = useToast();
  const copy = async () => {
    await navigator.clipboard.writeText(row.reminder ?? "");
    toast(`A reminder to ${row.name} is copied.`);
  };
  const disagreements = reports.disagreements.filter((one) => one.athlete_id === row.athlete_id);
  return (
    <div className="report-panel">
      <header>
        <h2>{row.name}</h2>
        <span className="quiet">
          {row.position}
          {row.number !== null && `, ${row.number}`}
        </span>
        <button
          type="button"
          className="text-button close-side"
          onClick={() => place.set({ athlete: null }, true)}
        >
          Close
        </button>
      </header>
      {row.daily?.words && <q>{row.daily.words}</q>}
      {row.daily?.told_by && <p className="quiet">Entered by staff: {row.daily.told_by}</p>}
      {row.rivals > 0 && (
        <p className="missing">Sent twice for today; asked on their phone which one counts.</p>
      )}
      {row.missing_since && row.state === "missing" && (
        <p>
          No report since {mediumDay(row.missing_since)}.{" "}
          {row.reminder && (
            <button type="button" className="text-button" onClick={copy}>
              Copy a reminder
            </button>
          )}
        </p>
      )}
      {row.unrated.length > 0 && (
        <p>
          Not rated: {row.unrated.map((one) => `${one.title}, ${mediumDay(one.day)}`).join("; ")}.{" "}
          {row.reminder && row.state !== "missing" && (
            <button type="button" className="text-button" onClick={copy}>
              Copy a reminder
            </button>
          )}
        </p>
      )}
      {disagreements.map((one) => (
        <Disagreement key={one.report_id} place={place} one={one} />
      ))}
      {row.weekly && <Week place={place} row={row} />}
      <Training place={place} row={row} />
      {place.may("edit_clinical") && <Injury place={place} row={row} />}
      {place.may("enter_reports") && reports.form && place.day <= place.squad.today && (
        <EnterFor key={place.day} place={place} row={row} />
      )}
    </div>
  );
}

function Disagreement({ place, one }: { place: Place; one: Reports["disagreements"][number] }) {
  const queries = useQueryClient();
  const settle = useMutation<unknown, Problem, boolean>({
    mutationFn: (athletes_own) =>
      ask(
        api.POST("/api/squads/{slug}/reports/{report_id}/settle", {
          params: { path: { slug: place.squad.slug, report_id: one.report_id } },
          body: { athletes_own },
        }),
      ),
    onSettled: () => askAgain(queries, [place.squad.slug]),
  });
  const said = (minutes: number | null, effort: number | null) =>
    `${minutes === null ? "no minutes" : `${say.short(minutes)} min`} at ${effort === null ? "no rating" : say.short(effort)}`;
  return (
    <p className="missing">
      {one.session}: {one.name} says {said(one.athlete_minutes, one.athlete_effort)}; the grid says{" "}
      {said(one.staff_minutes, one.staff_effort)}.{" "}
      {place.may("edit_entries") && (
        <>
          <button type="button" className="text-button" onClick={() => settle.mutate(true)}>
            Take the athlete’s
          </button>{" "}
          <button type="button" className="text-button" onClick={() => settle.mutate(false)}>
            Keep the grid’s
          </button>
        </>
      )}
    </p>
  );
}

/** The signs of the last week that were there at all, the frequent ones first. */
function Week({ place, row }: { place: Place; row: ReportRow }) {
  const forms = useQuery(formsQuery(place.squad.slug, place.day));
  const said = Object.entries(row.weekly?.answers ?? {}).filter(([, value]) => value > 0);
  const items = new Map((forms.data?.items.weekly ?? []).map((item) => [item.code, item]));
  return (
    <section aria-label="The last week">
      <h3>The last week</h3>
      {said.length === 0 ? (
        <p className="quiet">None of the signs asked for.</p>
      ) : (
        <ul>
          {said
            .sort((one, other) => other[1] - one[1])
            .map(([code, value]) => (
              <li key={code}>
                {items.get(code)?.question ?? code} <b>{items.get(code)?.choices[value] ?? value}</b>
              </li>
            ))}
        </ul>
      )}
    </section>
  );
}

function Training({ place, row }: { place: Place; row: ReportRow }) {
  const standing = row.availability;
  const [editing, setEditing] = useState(false);
  return (
    <section aria-label="Training">
      <h3>Training</h3>
      <p>
        <b>{trainingText(row)}</b>
      </p>
      {standing && (
        <p className="quiet">
          Since {mediumDay(standing.from_day)}
          {standing.to_day && ` until ${mediumDay(standing.to_day)}`}, {standing.set_by}
          {standing.reason && `. ${standing.reason}`}
        </p>
      )}
      {place.may("edit_clinical") &&
        (editing ? (
          <Restrict place={place} row={row} onDone={() => setEditing(false)} />
        ) : (
          <button type="button" className="text-button" onClick={() => setEditing(true)}>
            Change it
          </button>
        ))}
    </section>
  );
}

function Restrict({ place, row, onDone }: { place: Place; row: ReportRow; onDone: () => void }) {
  const queries = useQueryClient();
  const stands = row.availability;
  const [draft, setDraft] = useState<AllowedDraft>({
    availability: stands?.availability ?? "limited",
    change: stands?.change ?? "",
    reason: stands?.reason ?? "",
    share: stands?.minutes_share == null ? "" : say.short(stands.minutes_share * 100),
    cap: stands?.effort_cap == null ? "" : say.short(stands.effort_cap),
    until: "",
  });
  const save = useMutation<unknown, Problem>({
    mutationFn: () =>
      ask(
        api.POST("/api/squads/{slug}/restrictions", {
          params: { path: { slug: place.squad.slug } },
          body: {
            athlete_id: row.athlete_id,
            from_day: place.squad.today,
            ...allowedOf(draft),
            replaces: stands?.id ?? null,
          },
        }),
      ),
    onSuccess: () => {
      askAgain(queries, [place.squad.slug]);
      onDone();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <form className="form-rows" onSubmit={submit}>
      <AllowedFields draft={draft} onChange={setDraft} problem={save.error} />
      {save.isError && save.error.errors.length === 0 && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <div>
        <Button type="submit" size="sm" loading={save.isPending}>
          Save
        </Button>{" "}
        <button type="button" className="text-button" onClick={onDone}>
          Leave as it is
        </button>
      </div>
    </form>
  );
}

const PLACES = [
  ...new Map(
    [...regionsOf("front"), ...regionsOf("back")].map((one) => [placeName(one.site, one.side), one]),
  ),
].sort(([one], [other]) => one.localeCompare(other));

/** An injury that the clinician found. */
function Injury({ place, row }: { place: Place; row: ReportRow }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const [where, setWhere] = useState("");
  const [severity, setSeverity] = useState("5");
  const [words, setWords] = useState("");
  const region = PLACES.find(([name]) => name === where)?.[1];
  const save = useMutation<unknown, Problem>({
    mutationFn: () => {
      if (!region) throw new Problem(422, "Say where it is.");
      return ask(
        api.POST("/api/squads/{slug}/complaints", {
          params: { path: { slug: place.squad.slug } },
          body: {
            athlete_id: row.athlete_id,
            pain: { site: region.site, side: region.side, severity: Number(severity) },
            words: words || null,
          },
        }),
      );
    },
    onSuccess: () => {
      setOpen(false);
      setWords("");
      askAgain(queries, [place.squad.slug, "reports"]);
    },
  });
  if (!open)
    return (
      <p>
        <button type="button" className="text-button" onClick={() => setOpen(true)}>
          Enter an injury
        </button>
      </p>
    );
  return (
    <form
      className="form-rows"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <div className="form-pair">
        <Select label="Where" value={where} onChange={setWhere}>
          <option value="">where</option>
          {PLACES.map(([name]) => (
            <option key={name}>{name}</option>
          ))}
        </Select>
        <Select label="How bad, 10 the worst" value={severity} onChange={setSeverity}>
          {Array.from({ length: 10 }, (_, i) => String(i + 1)).map((one) => (
            <option key={one}>{one}</option>
          ))}
        </Select>
      </div>
      <Labelled label="What was found; for clinicians" error={save.error?.of("words")}>
        <Textarea size="sm" rows={2} value={words} onChange={(event) => setWords(event.target.value)} />
      </Labelled>
      {save.isError && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <div>
        <Button type="submit" size="sm" loading={save.isPending}>
          Enter the injury
        </Button>{" "}
        <button type="button" className="text-button" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
    </form>
  );
}

/** A report that staff heard of: with how they know. */
function EnterFor({ place, row }: { place: Place; row: ReportRow }) {
  const queries = useQueryClient();
  const toast = useToast();
  const [open, setOpen] = useState(false);
  // Empty for the daily one, "weekly", or the session that was not rated.
  const [about, setAbout] = useState("");
  const session = row.unrated.find((one) => one.id === about);
  const kind = session ? "session" : about === "weekly" ? "weekly" : "daily";
  const day = session?.day ?? (kind === "weekly" ? (row.week_of ?? place.day) : place.day);
  const forms = useQuery({ ...formsQuery(place.squad.slug, place.day), enabled: open });
  const asked = forms.data?.forms.find((form) => form.kind === kind)?.asked ?? [];
  const standing = kind === "daily" ? row.daily : kind === "weekly" ? row.weekly : null;
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [toldBy, setToldBy] = useState("");
  const [words, setWords] = useState("");
  const save = useMutation<unknown, Problem>({
    mutationFn: () => {
      const answers = Object.fromEntries(
        asked
          .filter((item) => typed[item.code]?.trim())
          .map((item) => [item.code, typedNumber(typed[item.code] ?? "")]),
      );
      return ask(
        api.PUT("/api/squads/{slug}/reports/{report_id}", {
          params: { path: { slug: place.squad.slug, report_id: ulid() } },
          body: {
            athlete_id: row.athlete_id,
            kind,
            day,
            session_id: session?.id ?? null,
            answers,
            words: words || null,
            told_by: toldBy,
            made_at: clubNow().toISOString(),
            replaces: standing?.id ?? null,
            ill: false,
          },
        }),
      );
    },
    onSuccess: () => {
      setOpen(false);
      toast(`The report of ${row.name} is in, as told.`);
      setTyped({});
      setAbout("");
      askAgain(queries, [place.squad.slug]);
    },
  });
  if (!open)
    return (
      <button type="button" className="text-button" onClick={() => setOpen(true)}>
        {row.daily ? "Enter another report for them" : "Enter it for them"}
      </button>
    );
  return (
    <form
      className="form-rows enter-for"
      onSubmit={(event) => {
        event.preventDefault();
        save.mutate();
      }}
    >
      <h3>As told, for {mediumDay(day)}</h3>
      <Select label="What about" value={about} onChange={setAbout}>
        <option value="">this morning</option>
        {row.week_of && <option value="weekly">the last week</option>}
        {row.unrated.map((one) => (
          <option key={one.id} value={one.id}>
            {one.title}, {mediumDay(one.day)}
          </option>
        ))}
      </Select>
      <div className="items">
        {asked.map((item) => (
          <Labelled
            key={item.code}
            label={`${kind === "daily" ? (HEADS[item.code] ?? item.code) : item.question}, ${item.least}–${item.most}`}
            error={save.error?.of(`answers.${item.code}`)}
          >
            <Input
              size="sm"
              inputMode="decimal"
              value={typed[item.code] ?? ""}
              onChange={(event) => setTyped({ ...typed, [item.code]: event.target.value })}
            />
          </Labelled>
        ))}
      </div>
      <Labelled label="How you know: told me, by phone" error={save.error?.of("told_by")}>
        <Input size="sm" value={toldBy} onChange={(event) => setToldBy(event.target.value)} />
      </Labelled>
      <Labelled label="Words" error={save.error?.of("words")}>
        <Textarea size="sm" rows={2} value={words} onChange={(event) => setWords(event.target.value)} />
      </Labelled>
      {save.isError && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <div>
        <Button type="submit" size="sm" loading={save.isPending}>
          Enter it
        </Button>{" "}
        <button type="button" className="text-button" onClick={() => setOpen(false)}>
          Leave it
        </button>
      </div>
    </form>
  );
}
