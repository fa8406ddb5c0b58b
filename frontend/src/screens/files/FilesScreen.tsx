import { Skeleton } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { askAgain } from "../../api/askAgain";
import type { Files } from "../../api/client";
import { filesQuery } from "../../api/queries/squad";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { SquadTabs } from "../squad/SquadTabs";
import { DropFiles } from "./DropFiles";
import { FileLook } from "./FileLook";
import { FileReport } from "./FileReport";
import { FileTable } from "./FileTable";
import { Mappings } from "./Mappings";
import { TakeOut } from "./TakeOut";
import { useSendFiles } from "./useSendFiles";
import "../squad/squad.css";
import "./files.css";

/** Files on their way in and those that are in, each with what came of it. */
export default function FilesScreen({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const files = useQuery(filesQuery(slug));
  const { sending, send, dismiss } = useSendFiles(slug, (file) => place.set({ file }, true));
  const chosen = files.data?.imports.find((one) => one.id === place.get("file"));
  useRenewWhenIn(slug, files.data);

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
          <DropFiles sending={sending} onFiles={send} onDismiss={dismiss} />
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
        askAgain(queries, [slug, what]);
    }
    before.current = done;
  }, [done, queries, slug]);
}
