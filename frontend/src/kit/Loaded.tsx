import { Skeleton } from "@chakra-ui/react";
import type { UseQueryResult } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { Message } from "../frame/Message";

interface LoadedProps<Data> {
  query: Pick<UseQueryResult<Data, Error>, "data" | "isError" | "error" | "refetch">;
  /** Said where it could not be loaded, such as "The people could not be loaded". */
  failed: string;
  /** What stands there while it comes. */
  waiting?: ReactNode;
  children: (data: Data) => ReactNode;
}

/** What was asked for: while it comes, where it does not, and once it is there. */
export function Loaded<Data>({ query, failed, waiting, children }: LoadedProps<Data>) {
  if (query.isError)
    return (
      <Message title={failed} action="Try again" onAction={() => query.refetch()}>
        {query.error?.message}
      </Message>
    );
  if (query.data === undefined) return waiting ?? <Skeleton height="300px" m="5" />;
  return children(query.data);
}
