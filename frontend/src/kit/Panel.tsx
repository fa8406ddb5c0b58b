import type { ReactNode } from "react";

interface BesideProps {
  /** The list, or whatever is picked from. */
  children: ReactNode;
  /** What is done with the one picked. */
  panel: ReactNode;
  label: string;
  /** Where there is room for one of them only, an empty panel is put away. */
  open?: boolean;
}

/** A list, and beside it a panel for the one that is picked. */
export function Beside({ children, panel, label, open = true }: BesideProps) {
  return (
    <div className="desk">
      <div className="desk-main">{children}</div>
      <aside className={`desk-side${open ? "" : " closed"}`} aria-label={label}>
        {panel}
      </aside>
    </div>
  );
}
