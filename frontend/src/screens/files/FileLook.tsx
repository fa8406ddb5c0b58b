import { Button, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import type { FileItem, FilePreview } from "../../api/client";
import { peopleQuery } from "../../api/queries/frame";
import type { Place } from "../../frame/place";
import { Problems } from "./FileReport";
import { shortly } from "./fileWords";
import { LookFields } from "./LookFields";
import { LookMaking } from "./LookMaking";
import { LookQuestions } from "./LookQuestions";
import { LookSheets } from "./LookSheets";
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
  const unknown = seen.people.some((person) => !person.known);
  const lacking = seen.unplaced.length > 0 && !spec.make_sessions;
  const open = seen.problems.length > 0 || unknown || lacking;
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
      <LookQuestions
        questions={seen.questions}
        answers={spec.answers ?? {}}
        onAnswer={(key, value) => set({ answers: { ...spec.answers, [key]: value } })}
        onAskAgain={() => set({ answers: {} })}
      />
      <LookSheets seen={seen} spec={spec} onChange={set} />
      {spec.kind !== "package" && (
        <>
          <LookTable seen={seen} spec={spec} onChange={set} />
          <LookFields
            seen={seen}
            spec={spec}
            onChange={set}
            zone={place.squad.time_zone}
            athletes={athletes}
          />
        </>
      )}
      <WhatIsRead seen={seen} />
      <WhoIsMeant
        people={seen.people}
        athletes={athletes}
        onSay={(said, athlete) => (said ? who.mutate({ said, athlete }) : set({ athlete }))}
      />
      {seen.making.length > 0 && (
        <LookMaking seen={seen} spec={spec} onChange={set} zone={place.squad.time_zone} />
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
        <Button
          type="submit"
          size="sm"
          loading={bring.isPending}
          disabled={Boolean(seen.wrong) || seen.questions.length > 0}
        >
          Bring it in
        </Button>
        {seen.questions.length > 0 && <span className="quiet">Answer what is open first.</span>}
        {spec.kind !== "package" && (
          <Input
            size="xs"
            maxWidth="260px"
            aria-label="Keep this way of reading as"
            placeholder={seen.mapping || "keep this way of reading as …"}
            maxLength={120}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        )}
      </div>
    </form>
  );
}

/** How many rows there are and for which sessions; or why none can be read. */
function WhatIsRead({ seen }: { seen: FilePreview }) {
  return (
    <>
      {seen.wrong ? (
        <p role="alert" className="over">
          {seen.wrong}
        </p>
      ) : (
        <p aria-live="polite">
          {seen.rows_read > 0 && (
            <>{seen.rows_read.toLocaleString("en-GB").replaceAll(",", "\u2009")} rows. </>
          )}
          {seen.sessions.length > 0 && <>For {shortly(seen.sessions)}. </>}
          {seen.found.length > 0 && <>Would come in: {shortly(seen.found)}. </>}
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
