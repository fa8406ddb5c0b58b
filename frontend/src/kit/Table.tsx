import { Children, type ReactNode } from "react";
import { Message } from "../frame/Message";

interface Head {
  name: string;
  /** Figures, set to the right. */
  number?: boolean;
  /** Said to who does not see the column, such as what its buttons do. */
  hidden?: boolean;
}

interface TableProps {
  heads: (string | Head)[];
  className?: string;
  caption?: ReactNode;
  /** Said in its place while it has no row. */
  empty?: { title: string; said: ReactNode };
  /** The rows. */
  children: ReactNode;
}

/** A table of rows under named columns; without a row it says so, and what to do. */
export function Table({ heads, className, caption, empty, children }: TableProps) {
  if (empty && Children.count(children) === 0) return <Message title={empty.title}>{empty.said}</Message>;
  return (
    <table className={className ? `plain-table ${className}` : "plain-table"}>
      {caption && <caption className="quiet">{caption}</caption>}
      <thead>
        <tr>
          {heads.map((head) => {
            const { name, number, hidden }: Head = typeof head === "string" ? { name: head } : head;
            return (
              <th key={name} scope="col" className={number ? "number" : undefined}>
                {hidden ? <span className="visually-hidden">{name}</span> : name}
              </th>
            );
          })}
        </tr>
      </thead>
      <tbody>{children}</tbody>
    </table>
  );
}
