import { api, ask, type ReturnWhole } from "../../api/client";
import { clockTime, shortDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { useDoing } from "../../kit/useDoing";

type Session = ReturnWhole["beside"][number];
type How = NonNullable<Session["how"]>;

const HOW: readonly (readonly [How, string, string])[] = [
  ["watch", "watches", "watched"],
  ["tactics", "joins the tactics", "joined the tactics"],
  ["walk", "walks through it", "walked through it"],
];

/** What somebody who is out can do with the squad: sessions without load, planned and done. */
export function WithoutLoad({ place, whole }: { place: Place; whole: ReturnWhole }) {
  const { slug, time_zone } = place.squad;
  const toast = useToast();
  const may = place.may("plan") || place.may("plan_returns");
  const put = useDoing(
    [slug],
    ({ session, how }: { session: Session; how: How | null; undone?: boolean }) =>
      ask(
        api.PUT("/api/squads/{slug}/return/{plan_id}/beside", {
          params: { path: { slug, plan_id: whole.row.plan_id } },
          body: { session_id: session.session_id, how },
        }),
      ),
    (_, { session, how, undone }) => {
      if (undone) return;
      const said = HOW.find(([one]) => one === how)?.[1] ?? "goes by the plan";
      toast(`${whole.row.name} ${said}: ${session.name}, ${shortDay(session.day)}.`, () =>
        put.mutate({ session, how: session.how, undone: true }),
      );
    },
  );
  if (whole.beside.length === 0) return null;
  const planned = whole.beside.filter((one) => one.how !== null).length;
  return (
    <details className="without-load">
      <summary>
        With the squad, without load <span className="quiet">{planned}</span>
      </summary>
      <ul>
        {whole.beside.map((one) => (
          <li key={one.session_id}>
            <span className="quiet">
              {shortDay(one.day)}, {clockTime(one.starts_at, time_zone)}
            </span>
            <span>{one.name}</span>
            {one.done || !may ? (
              <b>{HOW.find(([how]) => how === one.how)?.[one.done ? 2 : 1]}</b>
            ) : (
              <select
                aria-label={`${one.name}, ${shortDay(one.day)}, without load`}
                value={one.how ?? ""}
                onChange={(event) =>
                  put.mutate({ session: one, how: (event.target.value || null) as How | null })
                }
              >
                <option value="">as planned</option>
                {HOW.map(([how, said]) => (
                  <option key={how} value={how}>
                    {said}
                  </option>
                ))}
              </select>
            )}
          </li>
        ))}
      </ul>
    </details>
  );
}
