import { useEffect, useState } from "react";
import { api, ask, type Grid } from "../../../api/client";
import { useToast } from "../../../frame/toast";
import { useDoing } from "../../../kit/useDoing";
import { type Line, linesOf, partsOf } from "./partsPlan";

type Segments = Grid["segments"];
const same = (one: Segments, other: Segments) => JSON.stringify(one) === JSON.stringify(other);

/** What is typed of a session's parts, and what it began from: somebody else's change is told, and nothing is lost. */
export function usePartsPlan(slug: string, grid: Grid) {
  const toast = useToast();
  const [seen, setSeen] = useState({ segments: grid.segments, version: grid.version });
  const [lines, setLines] = useState<Line[]>(() => linesOf(grid.segments));
  const changed = !same(partsOf(lines), partsOf(linesOf(seen.segments)));
  const other = grid.version !== seen.version && !same(grid.segments, seen.segments);
  const adopt = () => {
    setSeen({ segments: grid.segments, version: grid.version });
    setLines(linesOf(grid.segments));
  };
  useEffect(() => {
    if (grid.version === seen.version || (other && changed)) return;
    setSeen({ segments: grid.segments, version: grid.version });
    if (!changed) setLines(linesOf(grid.segments));
  }, [grid.segments, grid.version, seen.version, other, changed]);
  const put = async (segments: Segments, version: number) => {
    const params = { path: { slug, session_id: grid.id } };
    const body = { parts: segments, version };
    const kept = await ask(api.PUT("/api/squads/{slug}/sessions/{session_id}/parts", { params, body }));
    setSeen({ segments, version: kept.version });
    setLines(linesOf(segments));
    return { before: seen.segments, version: kept.version };
  };
  const back = useDoing([slug], (was: { before: Segments; version: number }) => put(was.before, was.version));
  const save = useDoing(
    [slug],
    (version: number) => put(partsOf(lines), version),
    (was) => toast("The parts are planned.", () => back.mutate(was)),
  );
  return {
    lines,
    setLines,
    changed,
    /** Somebody else has changed them since, and what is typed here is not saved. */
    other: other && changed,
    adopt,
    pending: save.isPending,
    save: () => save.mutate(seen.version),
    replace: () => save.mutate(grid.version),
  };
}
