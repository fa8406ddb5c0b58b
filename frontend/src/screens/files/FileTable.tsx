import type { FileItem } from "../../api/client";
import { clockTime, mediumDay } from "../../frame/days";
import { Table } from "../../kit/Table";
import { STATES } from "./fileStates";

interface FileTableProps {
  files: FileItem[];
  chosen: string | undefined;
  zone: string;
  onChoose: (file: FileItem) => void;
}

/** Every file that came, with how far it is. */
export function FileTable({ files, chosen, zone, onChoose }: FileTableProps) {
  return (
    <Table
      className="files-table"
      heads={["File", "State", { name: "Size", number: true }, "Sent"]}
      empty={{
        title: "No file has come in yet",
        said: "Drop one above: you see how it is read before anything comes in.",
      }}
    >
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
    </Table>
  );
}

const size = (bytes: number) =>
  bytes < 1024 * 100
    ? `${Math.max(Math.round(bytes / 1024), 1)} kB`
    : `${(bytes / 1024 / 1024).toFixed(1)} MB`;
