import { Button, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import type { FileItem, FilePreview } from "../../api/client";
import { peopleQuery } from "../../api/queries";
import type { Place } from "../../frame/place";
import { Problems } from "./FileReport";
import { noSession } from "./fileWords";
import { LookFields } from "./LookFields";
import { LookTable } from "./LookTable";
import { useFileLook } from "./useFileLook";
import { WhoIsMeant } from "./WhoIsMeant";

interface FileLookProps {
  place: Place;
  file: FileItem;
  onDone: () => void;
}

/** How a file begins, how it would be read, and who is meant; nothing comes in before that is said to be right. */
export function FileLook({ place, file, onDone }: FileLookProps) {
  const [name, setName] = useState("");
  const people = useQuery(peopleQuery(place.squad.slug, place.day));
  const { preview, spec, set, who, bring } = useFileLook(place.squad.slug, file, onDone);
  const seen = preview.data;
  if (preview.isError && !seen)
    return (
      <p role="alert" className="over" style={{ padding: "0 var(--margin)" }}>
        {preview.error.message}
      </p>
    );
  if (!seen || !spec) return <p style={{ padding: "0 var(--margin)" }}>Looking at {file.file_name} …</p>;
  const athletes = people.data?.athletes ?? [];
  const unknown = seen.people.filter((person) => !person.known);
  const open = seen.problems.length > 0 || unknown.length > 0 || seen.unplaced.length > 0;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    bring.mutate({ spec, name });
  };
  return (
    <form className="file-look" onSubmit={submit} aria-label={`How ${file.file_name} is read`}>
      <h2>
        {file.file_name}
        {seen.mapping && <span className="quiet">, read as “{seen.mapping}”</span>}
      </h2>
      <LookTable seen={seen} spec={spec} onChange={set} />
      <LookFields seen={seen} spec={spec} onChange={set} zone={place.squad.time_zone} athletes={athletes} />
      <WhatIsRead seen={seen} unknown={unknown.length} />
      {unknown.length > 0 && (
        <WhoIsMeant
          unknown={unknown}
          athletes={athletes}
          onSay={(said, athlete) => (said ? who.mutate({ said, athlete }) : set({ athlete }))}
        />
      )}
      {seen.unplaced.length > 0 && (
        <label className="recompute">
          <input
            type="checkbox"
            checked={spec.make_sessions ?? false}
            onChange={(event) => set({ make_sessions: event.target.checked })}
          />
          <span>{noSession(seen.unplaced)}</span>
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

/** How many rows there are, for which sessions and whom; or why none can be read. */
function WhatIsRead({ seen, unknown }: { seen: FilePreview; unknown: number }) {
  return (
    <>
      {seen.wrong ? (
        <p role="alert" className="over">
          {seen.wrong}
        </p>
      ) : (
        <p aria-live="polite">
          {seen.rows_read.toLocaleString("en-GB").replaceAll(",", "\u2009")} rows.{" "}
          {seen.sessions.length > 0 && <>For {seen.sessions.join("; ")}. </>}
          {seen.people.length - unknown > 0 && (
            <>
              {seen.people.length - unknown} of {seen.people.length} people known.
            </>
          )}
        </p>
      )}
      {seen.notes.map((note) => (
        <p key={note} className="quiet">
          {note}
        </p>
      ))}
    </>
  );
}
