import { Button } from "@chakra-ui/react";
import type { Invited } from "../../api/client";
import { mediumDay } from "../../frame/days";
import { useToast } from "../../frame/toast";

interface JoinSheetProps {
  squad: string;
  invited: Invited[];
  onDone: () => void;
}

/** One-time links as QR codes to cut out, shown this once: nobody can read them again. */
export function JoinSheet({ squad, invited, onDone }: JoinSheetProps) {
  const toast = useToast();
  const copy = async (one: Invited) => {
    await navigator.clipboard.writeText(one.address);
    toast(`The link for ${one.name} is copied.`);
  };
  return (
    <section className="join-sheet" aria-label="One-time links">
      <div className="summary">
        <h1>
          <b>{invited.length}</b> {invited.length === 1 ? "link" : "links"} for {squad}
        </h1>
        <div className="summary-end">
          <span>
            Shown this once. Each works once, until {mediumDay(invited[0]?.expires_at.slice(0, 10) ?? "")}.
          </span>
          <Button size="sm" onClick={() => window.print()}>
            Print the sheet
          </Button>
          <button type="button" className="text-button" onClick={onDone}>
            Done
          </button>
        </div>
      </div>
      <ul>
        {invited.map((one) => (
          <li key={one.id}>
            <img
              alt={`QR code for ${one.name}`}
              width={132}
              height={132}
              src={`data:image/svg+xml,${encodeURIComponent(one.picture)}`}
            />
            <div>
              <b>{one.name}</b>
              <span className="quiet">
                {one.new_password ? "to a new password" : "point the phone’s camera here to join"}
              </span>
              <button
                type="button"
                className="text-button"
                aria-label={`Copy the link for ${one.name}`}
                onClick={() => copy(one)}
              >
                Copy the link
              </button>
            </div>
          </li>
        ))}
      </ul>
    </section>
  );
}
