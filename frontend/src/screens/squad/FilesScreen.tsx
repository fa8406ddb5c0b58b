import { Button, Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type DragEvent, useEffect, useRef, useState } from "react";
import { api, ask, type FileItem, type Files, Problem, sendFile } from "../../api/client";
import { filesQuery } from "../../api/queries";
import { clockTime, mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { FileLook } from "./FileLook";
import { FileReport } from "./FileReport";
import { SquadTabs } from "./SquadTabs";
import "./squad.css";
import "./files.css";

const MOST_BYTES = 400 * 1024 * 1024;

interface Sending {
  name: string;
  share: number;
  problem?: string;
}

/** Files on their way in and those that are in, each with what came of it. */
export default function FilesScreen({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const files = useQuery(filesQuery(slug));
  const [sending, setSending] = useState<Sending[]>([]);
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const chosen = files.data?.imports.find((one) => one.id === place.get("file"));
  useRenewWhenIn(slug, files.data);

  const send = async (list: FileList | null) => {
    for (const file of [...(list ?? [])]) {
      const show = (change: Partial<Sending>) =>
        setSending((before) => [
          ...before.filter((one) => one.name !== file.name),
          { name: file.name, share: 0, ...change },
        ]);
      if (file.size > MOST_BYTES) {
        show({
          problem: `${Math.round(file.size / 1024 / 1024)} MB; 400 MB is the most. Split it by session.`,
        });
        continue;
      }
      show({});
      try {
        const put = await sendFile(slug, file, (share) => show({ share }));
        setSending((before) => before.filter((one) => one.name !== file.name));
        if (put.again) toast(`${file.name} is in already, as ${put.file.file_name}. Nothing was changed.`);
        await queries.invalidateQueries({ queryKey: [slug, "files"] });
        place.set({ file: put.file.id }, true);
      } catch (error) {
        show({ problem: error instanceof Problem ? error.message : "It could not be sent." });
      }
    }
  };
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    send(event.dataTransfer.files);
  };
  if (files.isError)
    return (
      <Message title="The files could not be loaded" action="Try again" onAction={() => files.refetch()}>
        {files.error.message}
      </Message>
    );
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>Files</b> from devices and forms
        </h1>
      </div>
      <div className="desk">
        <div className="desk-main">
          <section
            aria-label="Drop files here"
            className={`drop${over ? " over" : ""}`}
            onDragOver={(event) => {
              event.preventDefault();
              setOver(true);
            }}
            onDragLeave={() => setOver(false)}
            onDrop={drop}
          >
            <p>
              Drop files here: CSV, TSV, XLSX, Parquet, JSON lines or GPX.{" "}
              <button type="button" className="text-button" onClick={() => picker.current?.click()}>
                Choose files
              </button>
            </p>
            <input
              ref={picker}
              type="file"
              multiple
              className="visually-hidden"
              tabIndex={-1}
              aria-label="Files to bring in"
              onChange={(event) => {
                send(event.target.files);
                event.target.value = "";
              }}
            />
            {sending.map((one) => (
              <p key={one.name} role={one.problem ? "alert" : "status"} className={one.problem ? "over" : ""}>
                {one.name}: {one.problem ?? `${Math.round(one.share * 100)} % sent`}{" "}
                {one.problem && (
                  <button
                    type="button"
                    className="text-button"
                    onClick={() => setSending((before) => before.filter((other) => other !== one))}
                  >
                    Dismiss
                  </button>
                )}
              </p>
            ))}
          </section>
          {!files.data ? (
            <Skeleton height="200px" m="5" />
          ) : (
            <>
              {chosen && (chosen.state === "looked_at" || chosen.state === "failed") && (
                <FileLook
                  key={chosen.id}
                  place={place}
                  file={chosen}
                  onDone={() => place.set({ file: chosen.id }, true)}
                />
              )}
              <FileTable
                files={files.data.imports}
                chosen={chosen?.id}
                zone={place.squad.time_zone}
                onChoose={(file) => place.set({ file: file.id }, true)}
              />
              <Mappings place={place} mappings={files.data.mappings} />
              <TakeOut place={place} />
            </>
          )}
        </div>
        <aside className={`desk-side${chosen ? "" : " closed"}`} aria-label="What came of the file">
          {chosen ? (
            <FileReport place={place} file={chosen} />
          ) : (
            <p className="quiet">
              A file comes in whole or not at all. Fix once how a kind of file is read, keep that under a
              name, and every file like it is read the same way. The same file twice is recognised; every file
              can be taken back as a whole.
            </p>
          )}
        </aside>
      </div>
    </>
  );
}

/** When a file has come in, what other screens show of it is asked for again. */
function useRenewWhenIn(slug: string, files: Files | undefined) {
  const queries = useQueryClient();
  const done = files?.imports.filter((one) => one.state === "done").length;
  const before = useRef(done);
  useEffect(() => {
    if (before.current !== undefined && done !== before.current) {
      for (const what of ["morning", "session", "work", "recordings", "spine"])
        queries.invalidateQueries({ queryKey: [slug, what] });
    }
    before.current = done;
  }, [done, queries, slug]);
}

export const STATES: Record<FileItem["state"], string> = {
  looked_at: "to be looked at",
  waiting: "waiting",
  running: "coming in",
  done: "in",
  failed: "stayed out",
  undone: "taken back",
};

interface FileTableProps {
  files: FileItem[];
  chosen: string | undefined;
  zone: string;
  onChoose: (file: FileItem) => void;
}

function FileTable({ files, chosen, zone, onChoose }: FileTableProps) {
  if (files.length === 0)
    return (
      <Message title="No file has come in yet">
        Drop one above: you see how it is read before anything comes in.
      </Message>
    );
  return (
    <table className="plain-table files-table">
      <thead>
        <tr>
          <th scope="col">File</th>
          <th scope="col">State</th>
          <th scope="col" className="number">
            Size
          </th>
          <th scope="col">Sent</th>
        </tr>
      </thead>
      <tbody>
        {files.map((file) => (
          <tr key={file.id} className={file.id === chosen ? "chosen" : undefined}>
            <td>
              <button type="button" className="text-button plain" onClick={() => onChoose(file)}>
                {file.file_name}
              </button>
            </td>
            <td>
              {file.state === "running" || file.state === "waiting" ? (
                <span role="status">
                  {file.step || STATES[file.state]}{" "}
                  <progress value={file.share} max={1} aria-label={`${file.file_name} on its way`} />
                </span>
              ) : (
                <span className={file.state === "failed" ? "over" : file.state === "undone" ? "quiet" : ""}>
                  {STATES[file.state]}
                </span>
              )}
            </td>
            <td className="number figure">{size(file.size)}</td>
            <td className="quiet">
              {file.created_by} {mediumDay(file.created_at.slice(0, 10))} {clockTime(file.created_at, zone)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

const size = (bytes: number) =>
  bytes < 1024 * 100
    ? `${Math.max(Math.round(bytes / 1024), 1)} kB`
    : `${(bytes / 1024 / 1024).toFixed(1)} MB`;

function Mappings({ place, mappings }: { place: Place; mappings: Files["mappings"] }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const remove = useMutation<unknown, Problem, number>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/files/mappings/{mapping_id}", {
          params: { path: { slug, mapping_id: id } },
        }),
      ),
    onSuccess: () => queries.invalidateQueries({ queryKey: [slug, "files"] }),
    onError: (problem) => toast(problem.message),
  });
  if (mappings.length === 0) return null;
  return (
    <section aria-labelledby="mappings-head" style={{ padding: "18px var(--margin)" }}>
      <h2 id="mappings-head" style={{ margin: "0 0 6px", fontSize: 15, fontWeight: 650 }}>
        How files are read
      </h2>
      <ul className="place-list">
        {mappings.map((one) => (
          <li key={one.id}>
            <b style={{ fontWeight: 650 }}>{one.name}</b>{" "}
            <span className="quiet">
              {(one.spec.columns as { role: string }[]).filter((column) => column.role !== "ignore").length}{" "}
              columns, kept by {one.set_by}
            </span>
            <button
              type="button"
              className="text-button"
              aria-label={`Forget ${one.name}`}
              onClick={() => remove.mutate(one.id)}
            >
              forget
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

const FORMATS = ["csv", "tsv", "xlsx", "parquet", "jsonl"];

/** What can be taken along: every athlete's daily loads, and the sessions for a calendar. */
function TakeOut({ place }: { place: Place }) {
  if (!place.may("export")) return null;
  const base = `/api/squads/${place.squad.slug}`;
  return (
    <section aria-labelledby="out-head" style={{ padding: "0 var(--margin) 18px" }}>
      <h2 id="out-head" style={{ margin: "0 0 6px", fontSize: 15, fontWeight: 650 }}>
        Take out
      </h2>
      <p style={{ margin: 0 }}>
        Daily loads of every unit until {mediumDay(place.day)} as{" "}
        {FORMATS.map((format, i) => (
          <span key={format}>
            {i > 0 && ", "}
            <a className="text-button" href={`${base}/daily-loads.${format}?day=${place.day}`} download>
              {format}
            </a>
          </span>
        ))}
        ; sessions as{" "}
        <a className="text-button" href={`${base}/sessions.ics`} download>
          a calendar
        </a>
        .
      </p>
    </section>
  );
}

export function FileActions({ place, file }: { place: Place; file: FileItem }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const renew = () => queries.invalidateQueries({ queryKey: [slug] });
  const path = { slug, import_id: file.id };
  const undo = useMutation<FileItem, Problem>({
    mutationFn: () => ask(api.POST("/api/squads/{slug}/files/{import_id}/undo", { params: { path } })),
    onSuccess: () => {
      toast(`${file.file_name} is taken back as a whole.`);
      renew();
    },
    onError: (problem) => toast(problem.message),
  });
  const discard = useMutation<unknown, Problem>({
    mutationFn: () => ask(api.DELETE("/api/squads/{slug}/files/{import_id}", { params: { path } })),
    onSuccess: () => {
      place.set({ file: null }, true);
      renew();
    },
    onError: (problem) => toast(problem.message),
  });
  if (file.state === "done")
    return (
      <Button size="sm" variant="outline" loading={undo.isPending} onClick={() => undo.mutate()}>
        Take it back
      </Button>
    );
  if (file.state === "looked_at" || file.state === "failed")
    return (
      <button type="button" className="text-button" onClick={() => discard.mutate()}>
        Put it away
      </button>
    );
  return null;
}
