import type { FileItem } from "../../api/client";
import { clockTime, mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import { STATES } from "./fileStates";

interface FileTableProps {
  files: FileItem[];
  chosen: string | undefined;
  zone: string;
  onChoose: (file: FileItem) => void;
}

/** Every file that came, with how far it is. */
export function FileTable({ files, chosen, zone, onChoose }: FileTableProps) {
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
