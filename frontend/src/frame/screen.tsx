import { useQueryClient } from "@tanstack/react-query";
import { type ComponentType, type ReactNode, useEffect, useState } from "react";
import { ErrorBoundary, type FallbackProps } from "react-error-boundary";
import { meQuery } from "../api/queries/frame";
import { Message } from "./Message";
import { ScreenLoading } from "./ScreenLoading";

/**
 * A screen whose code comes in when it is first shown. It is shown the moment it is there: Suspense would keep what
 * stands in its place for 300 ms at least.
 */
export function screen<Props extends object>(load: () => Promise<{ default: ComponentType<Props> }>) {
  let come: ComponentType<Props> | null = null;
  return function Screen(props: Props) {
    const [Loaded, setLoaded] = useState(() => come);
    const [failed, setFailed] = useState(false);
    useEffect(() => {
      if (come) return;
      load().then(
        (module) => {
          come = module.default;
          setLoaded(() => module.default);
        },
        () => setFailed(true),
      );
    }, []);
    if (Loaded) return <Loaded {...props} />;
    if (!failed) return <ScreenLoading />;
    // A browser that failed to load code once does not ask again: only the whole page can.
    return (
      <Message title="This screen could not be loaded" action="Load the page again" onAction={reload}>
        The network may be away, or Uvren has been renewed since the page was opened. What waits to be sent is
        kept.
      </Message>
    );
  };
}

/** What a screen that breaks leaves standing, and says instead. With another of `keys` it is tried again. */
export function Guard({ keys, children }: { keys: string[]; children: ReactNode }) {
  const queries = useQueryClient();
  // What broke it may be an answer: all but who one is gets asked for anew.
  const forget = () =>
    queries.resetQueries({ predicate: (query) => query.queryKey[0] !== meQuery.queryKey[0] });
  return (
    <ErrorBoundary FallbackComponent={Broken} resetKeys={keys} onReset={forget}>
      {children}
    </ErrorBoundary>
  );
}

function Broken({ error, resetErrorBoundary }: FallbackProps) {
  return (
    <div role="alert">
      <Message title="This screen has broken" action="Try again" onAction={resetErrorBoundary}>
        What was sent is kept, and what waits to be sent too. The fault: {String(error)}
      </Message>
    </div>
  );
}

const reload = () => window.location.reload();
