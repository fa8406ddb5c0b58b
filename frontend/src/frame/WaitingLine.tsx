import type { Waiting } from "../offline/entries";
import { dismiss } from "../offline/outbox";

/** Says what is kept in this browser until there is a network again, and what the server would not take. */
export function WaitingLine({ outbox }: { outbox: Waiting[] }) {
  if (outbox.length === 0) return null;
  const refused = outbox.filter((item) => item.refused);
  const waiting = outbox.length - refused.length;
  return (
    <div role="status" className="waiting-line">
      {waiting > 0 && (
        <span>
          {waiting === 1 ? "1 change is" : `${waiting} changes are`} kept here and will be sent when the
          server answers.
        </span>
      )}
      {refused.map((item) => (
        <span key={item.key} className="over">
          {item.label} was not taken: {item.refused}{" "}
          <button type="button" className="text-button" onClick={() => dismiss(item.key)}>
            Put it away
          </button>
        </span>
      ))}
    </div>
  );
}
