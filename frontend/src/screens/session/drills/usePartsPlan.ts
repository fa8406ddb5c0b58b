import { useEffect, useState } from "react";
import { api, ask, type Grid } from "../../../api/client";
import { useToast } from "../../../frame/toast";
import { useDoing } from "../../../kit/useDoing";
import { aimOf, aimTyped, type Line, linesOf, partsOf } from "./partsPlan";

type Segments = Grid["segments"];
interface Plan {
  segments: Segments;
  aim: number;
}
const kept = (grid: Grid) => ({ segments: grid.segments, aim: grid.mix_aim, version: grid.version });
const same = (one: Segments, other: Segments) => JSON.stringify(one) === JSON.stringify(other);

/** What is typed of a session's parts, and what it began from: somebody else's change is told, and nothing is lost. */
export function usePartsPlan(slug: string, grid: Grid) {
  const toast = useToast();
  const [seen, setSeen] = useState(() => kept(grid));
  const [lines, setLines] = useState<Line[]>(() => linesOf(grid.segments));
  const [aim, setAim] = useState(() => aimTyped(grid.mix_aim));
  const changed = !same(partsOf(lines), partsOf(linesOf(seen.segments))) || aimOf(aim) !== seen.aim;
  const other = grid.version !== seen.version && !same(grid.segments, seen.segments);
  const adopt = () => {
    setSeen(kept(grid));
    setLines(linesOf(grid.segments));
    setAim(aimTyped(grid.mix_aim));
  };
  useEffect(() => {
    if (grid.version === seen.version || (other && changed)) return;
    setSeen(kept(grid));
    if (changed) return;
    setLines(linesOf(grid.segments));
    setAim(aimTyped(grid.mix_aim));
  }, [grid, seen.version, other, changed]);
  const put = async (plan: Plan, version: number) => {
    const params = { path: { slug, session_id: grid.id } };
    // What has no rounds has no aim of its own.
    const graded = plan.segments.some((one) => one.grade !== null);
    const body = { parts: plan.segments, aim: graded ? plan.aim : null, version };
    const done = await ask(api.PUT("/api/squads/{slug}/sessions/{session_id}/parts", { params, body }));
    setSeen({ ...plan, version: done.version });
    setLines(linesOf(plan.segments));
    setAim(aimTyped(plan.aim));
    return { before: { segments: seen.segments, aim: seen.aim }, version: done.version };
  };
  const back = useDoing([slug], (was: { before: Plan; version: number }) => put(was.before, was.version));
  const save = useDoing(
    [slug],
    (version: number) => put({ segments: partsOf(lines), aim: aimOf(aim) ?? seen.aim }, version),
    (was) => toast("The parts are planned.", () => back.mutate(was)),
  );
  return {
    lines,
    setLines,
    aim,
    setAim,
    changed,
    /** Somebody else has changed them since, and what is typed here is not saved. */
    other: other && changed,
    adopt,
    pending: save.isPending,
    save: () => save.mutate(seen.version),
    replace: () => save.mutate(grid.version),
  };
}
