import { Skeleton } from "@chakra-ui/react";

const ROWS = Array.from({ length: 9 }, (_, i) => `row ${i}`);

/** Stands where a screen will be while it comes in: a heading and rows, as most screens have them. */
export function ScreenLoading() {
  return (
    <div role="status" aria-label="Loading the screen" className="screen-loading">
      <Skeleton height="24px" width="320px" maxWidth="70%" />
      {ROWS.map((row) => (
        <Skeleton key={row} height="26px" />
      ))}
    </div>
  );
}
