import { Button, Input } from "@chakra-ui/react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type FileItem, type FilePreview, type FileSpec, type Problem } from "../../api/client";
import { peopleQuery } from "../../api/queries";
import { Labelled, Select, typedNumber } from "../../frame/fields";
import type { Place } from "../../frame/place";
import { Problems } from "./FileReport";

interface FileLookProps {
  place: Place;
  file: FileItem;
  onDone: () => void;
}

const ROLE_NAMES: Record<string, string> = {
  ignore: "– not taken",
  athlete: "athlete",
  time: "time",
  date: "date",
  heart_rate: "heart rate",
  speed: "speed",
  latitude: "latitude",
  longitude: "longitude",
  x: "x on the field",
  y: "y on the field",
  impact: "impact peak",
  side: "left or right",
  minutes: "minutes",
  effort: "effort, 0–10",
  words: "words",
};

const WRITINGS: Record<string, string> = {
  year_first: "2026-03-12 18:00",
  day_first: "12.03.2026 18:00",
  month_first: "03/12/2026 18:00",
  clock: "18:00:00, no date",
  seconds: "seconds from the start",
  milliseconds: "milliseconds from the start",
  minutes: "minutes from the start",
  unix_seconds: "seconds since 1970",
  unix_milliseconds: "milliseconds since 1970",
  sheet_days: "days of a spreadsheet",
};

/** How a file begins, how it would be read, and who is meant; nothing comes in before that is said to be right. */
export function FileLook({ place, file, onDone }: FileLookProps) {
  const slug = place.squad.slug;
  const path = { slug, import_id: file.id };
  const queries = useQueryClient();
  const [given, setGiven] = useState<FileSpec | null>(null);
  const [name, setName] = useState("");
  const people = useQuery(peopleQuery(slug, place.day));
  const key = [slug, "file", file.id, JSON.stringify(given)];
  const preview = useQuery({
    queryKey: key,
    queryFn: () =>
      ask(
        api.POST("/api/squads/{slug}/files/{import_id}/preview", {
          params: { path },
          body: given ? { spec: given } : {},
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const who = useMutation<FilePreview, Problem, { said: string; athlete: number | null }>({
    mutationFn: ({ said, athlete }) =>
      ask(
        api.POST("/api/squads/{slug}/files/{import_id}/preview", {
          params: { path },
          body: { spec: given ?? preview.data?.spec ?? null, people: [{ said, athlete_id: athlete }] },
        }),
      ),
    onSuccess: (seen) => queries.setQueryData(key, seen),
  });
  const bring = useMutation<FileItem, Problem, FileSpec>({
    mutationFn: (spec) =>
      ask(
        api.POST("/api/squads/{slug}/files/{import_id}/bring-in", {
          params: { path },
          body: { spec, save_as: name },
        }),
      ),
    onSuccess: () => {
      askAgain(queries, [slug, "files"]);
      onDone();
    },
  });
  const seen = preview.data;
  if (preview.isError && !seen)
    return (
      <p role="alert" className="over" style={{ padding: "0 var(--margin)" }}>
        {preview.error.message}
      </p>
    );
  if (!seen) return <p style={{ padding: "0 var(--margin)" }}>Looking at {file.file_name} …</p>;
  const spec: FileSpec = given ?? seen.spec;
  const set = (changes: Partial<FileSpec>) => setGiven({ ...spec, ...changes });
  const unknown = seen.people.filter((person) => !person.known);
  const open = seen.problems.length > 0 || unknown.length > 0 || seen.unplaced.length > 0;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    bring.mutate(spec);
  };
  const relative = ["seconds", "milliseconds", "minutes"].includes(spec.writing ?? "");
  const dayless = relative || spec.writing === "clock";
  return (
    <form className="file-look" onSubmit={submit} aria-label={`How ${file.file_name} is read`}>
      <h2>
        {file.file_name}
        {seen.mapping && <span className="quiet">, read as “{seen.mapping}”</span>}
      </h2>
      <div className="look-table">
        <table>
          <thead>
            <tr>
              {spec.columns.map((use, i) => (
                <th key={use.name} scope="col">
                  <div className="column-name">{use.name}</div>
                  <Select
                    size="xs"
                    label={`${use.name} holds`}
                    value={use.role}
                    onChange={(role) =>
                      set({
                        columns: spec.columns.map((one, at) =>
                          at === i ? { ...one, role, unit: seen.units[role]?.[0] ?? "" } : one,
                        ),
                      })
                    }
                  >
                    {seen.roles.map((role) => (
                      <option key={role} value={role}>
                        {roleName(role)}
                      </option>
                    ))}
                  </Select>
                  {(seen.units[use.role]?.length ?? 0) > 1 && (
                    <Select
                      size="xs"
                      label={`Unit of ${use.name}`}
                      value={use.unit || (seen.units[use.role]?.[0] ?? "")}
                      onChange={(unit) =>
                        set({
                          columns: spec.columns.map((one, at) => (at === i ? { ...one, unit } : one)),
                        })
                      }
                    >
                      {seen.units[use.role]?.map((unit) => (
                        <option key={unit}>{unit}</option>
                      ))}
                    </Select>
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {seen.rows.slice(0, 5).map((row, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: rows of a file have no name of their own
              <tr key={i}>
                {row.map((cell, at) => (
                  <td
                    key={spec.columns[at]?.name}
                    className={spec.columns[at]?.role === "ignore" ? "quiet" : ""}
                  >
                    {cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <div className="look-fields">
        <Labelled label="Each row is">
          <Select
            size="xs"
            label="Each row is"
            value={spec.kind}
            onChange={(kind) => set({ kind: kind as FileSpec["kind"] })}
          >
            <option value="samples">a sample of a recording</option>
            <option value="sessions">an athlete’s session</option>
          </Select>
        </Labelled>
        <Labelled label="Times are written">
          <Select
            size="xs"
            label="Times are written"
            value={spec.writing ?? ""}
            onChange={(writing) => set({ writing: (writing || null) as FileSpec["writing"] })}
          >
            <option value="">not at all</option>
            {seen.writings.map((writing) => (
              <option key={writing} value={writing}>
                {WRITINGS[writing]}
              </option>
            ))}
          </Select>
        </Labelled>
        <Labelled label="Local times are of">
          <Select
            size="xs"
            label="Local times are of"
            value={spec.zone ?? ""}
            onChange={(zone) => set({ zone })}
          >
            {[...new Set([spec.zone ?? "", place.squad.time_zone, "UTC"])].map((zone) => (
              <option key={zone}>{zone}</option>
            ))}
          </Select>
        </Labelled>
        {dayless && (
          <Labelled label="Day">
            <Input
              size="xs"
              type="date"
              value={spec.day ?? ""}
              onChange={(event) => set({ day: event.target.value || null })}
            />
          </Labelled>
        )}
        {relative && (
          <Labelled label="Began at">
            <Input
              size="xs"
              type="time"
              step={1}
              value={spec.begins ?? ""}
              onChange={(event) => set({ begins: event.target.value || null })}
            />
          </Labelled>
        )}
        {!spec.columns.some((use) => use.role === "athlete") && (
          <Labelled label="Athlete of the file">
            <Select
              size="xs"
              label="Athlete of the file"
              value={spec.athlete == null ? "" : String(spec.athlete)}
              onChange={(id) => set({ athlete: id ? Number(id) : null })}
            >
              <option value="">as its name says</option>
              {people.data?.athletes.map((one) => (
                <option key={one.athlete_id} value={one.athlete_id}>
                  {one.name}
                </option>
              ))}
            </Select>
          </Labelled>
        )}
        <Labelled label="Clock is off by, s">
          <Input
            size="xs"
            inputMode="decimal"
            defaultValue={spec.offset_seconds ? String(-spec.offset_seconds) : ""}
            placeholder="0"
            onBlur={(event) => {
              const typed = typedNumber(event.target.value || "0");
              if (!Number.isNaN(typed) && -typed !== spec.offset_seconds) set({ offset_seconds: -typed });
            }}
          />
        </Labelled>
        <Labelled label="Device">
          <Input
            size="xs"
            maxLength={120}
            defaultValue={spec.device}
            placeholder="strap, pod …"
            onBlur={(event) => event.target.value !== spec.device && set({ device: event.target.value })}
          />
        </Labelled>
      </div>
      {seen.wrong ? (
        <p role="alert" className="over">
          {seen.wrong}
        </p>
      ) : (
        <p aria-live="polite">
          {seen.rows_read.toLocaleString("en-GB").replaceAll(",", "\u2009")} rows.{" "}
          {seen.sessions.length > 0 && <>For {seen.sessions.join("; ")}. </>}
          {seen.people.length - unknown.length > 0 && (
            <>
              {seen.people.length - unknown.length} of {seen.people.length} people known.
            </>
          )}
        </p>
      )}
      {seen.notes.map((note) => (
        <p key={note} className="quiet">
          {note}
        </p>
      ))}
      {unknown.length > 0 && (
        <fieldset className="who">
          <legend>Who is meant? It is remembered for the next file.</legend>
          {unknown.map((person) => (
            <div key={person.said}>
              <b>{person.said || "The athlete of this file"}</b>
              <Select
                size="xs"
                label={`${person.said || "The athlete of this file"} is`}
                value=""
                onChange={(id) => {
                  if (!person.said) set({ athlete: Number(id) });
                  else who.mutate({ said: person.said, athlete: id === "none" ? null : Number(id) });
                }}
              >
                <option value="">choose</option>
                {people.data?.athletes.map((one) => (
                  <option key={one.athlete_id} value={one.athlete_id}>
                    {one.name}
                  </option>
                ))}
                {person.said && <option value="none">none of the squad, leave out</option>}
              </Select>
            </div>
          ))}
        </fieldset>
      )}
      {seen.unplaced.length > 0 && (
        <label className="recompute">
          <input
            type="checkbox"
            checked={spec.make_sessions ?? false}
            onChange={(event) => set({ make_sessions: event.target.checked })}
          />
          <span>There is no session for {seen.unplaced.join(", ")}. Make one from the file.</span>
        </label>
      )}
      {seen.problems.length > 0 && (
        <Problems problems={seen.problems} count={Math.max(seen.dropped, seen.problems.length)} />
      )}
      {open && (
        <label className="recompute">
          <input
            type="checkbox"
            checked={spec.good_rows ?? false}
            onChange={(event) => set({ good_rows: event.target.checked })}
          />
          <span>Take the good rows and leave the others out.</span>
        </label>
      )}
      {bring.error && (
        <p role="alert" className="over">
          {bring.error.message}
        </p>
      )}
      <div className="look-end">
        <Button type="submit" size="sm" loading={bring.isPending} disabled={Boolean(seen.wrong)}>
          Bring it in
        </Button>
        <Input
          size="xs"
          maxWidth="260px"
          aria-label="Keep this way of reading as"
          placeholder={seen.mapping || "keep this way of reading as …"}
          maxLength={120}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
      </div>
    </form>
  );
}

function roleName(role: string): string {
  if (role.startsWith("channel:")) return `load of ${role.slice(8).replaceAll("_", " ")}`;
  if (role.startsWith("zone:")) return `minutes in zone ${role.slice(5)}`;
  return ROLE_NAMES[role] ?? role;
}
