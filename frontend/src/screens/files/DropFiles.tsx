import { type DragEvent, useRef, useState } from "react";
import type { Sending } from "./useSendFiles";

interface DropFilesProps {
  sending: Sending[];
  onFiles: (files: FileList | null) => void;
  onDismiss: (one: Sending) => void;
}

/** Where files are dropped or chosen, and how far each is on its way. */
export function DropFiles({ sending, onFiles, onDismiss }: DropFilesProps) {
  const [over, setOver] = useState(false);
  const picker = useRef<HTMLInputElement>(null);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    onFiles(event.dataTransfer.files);
  };
  return (
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
        Drop files here: CSV, TSV, XLSX, ODS, Parquet, JSON lines, GPX or iCalendar.{" "}
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
          onFiles(event.target.files);
          event.target.value = "";
        }}
      />
      {sending.map((one) => (
        <p key={one.name} role={one.problem ? "alert" : "status"} className={one.problem ? "over" : ""}>
          {one.name}: {one.problem ?? `${Math.round(one.share * 100)} % sent`}{" "}
          {one.problem && (
            <button type="button" className="text-button" onClick={() => onDismiss(one)}>
              Dismiss
            </button>
          )}
        </p>
      ))}
    </section>
  );
}
