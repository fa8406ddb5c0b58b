import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "../../api/client";
import { feedsQuery } from "../../api/queries/week";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { Select } from "../../kit/fields";
import { ShownLink } from "../../kit/ShownLink";
import { useDoing } from "../../kit/useDoing";

/** Links by which calendars elsewhere keep up with the plan: the squad's, or one athlete's own. */
export function Feeds({ place, people }: { place: Place; people: { athlete_id: number; name: string }[] }) {
  const { slug } = place.squad;
  const path = { params: { path: { slug } } };
  const { data } = useQuery(feedsQuery(slug));
  const [whose, setWhose] = useState("");
  const make = useDoing([slug, "feeds"], () =>
    ask(
      api.POST("/api/squads/{slug}/week/feeds", {
        ...path,
        body: { athlete_id: whose ? Number(whose) : null },
      }),
    ),
  );
  const withdraw = useDoing([slug, "feeds"], (feed_id: string) =>
    ask(
      api.POST("/api/squads/{slug}/week/feeds/{feed_id}/withdraw", { params: { path: { slug, feed_id } } }),
    ),
  );
  return (
    <details className="week-after week-feeds">
      <summary>Calendar links and printing</summary>
      <p className="quiet">
        A calendar program that has a link keeps up with the plan by itself. Whoever has the link sees when
        and how long, nothing else. A new link takes the place of the one before it.
      </p>
      <Select size="xs" label="Whose calendar" value={whose} onChange={setWhose}>
        <option value="">the whole squad’s</option>
        {people.map((one) => (
          <option key={one.athlete_id} value={one.athlete_id}>
            {one.name}’s own
          </option>
        ))}
      </Select>
      <p>
        <button type="button" className="text-button" onClick={() => make.mutate()}>
          Make a link
        </button>{" "}
        <button type="button" className="text-button" onClick={() => window.print()}>
          Print the week for the wall
        </button>
      </p>
      {make.data && <ShownLink link={make.data.link} />}
      {data?.feeds.map((one) => (
        <p key={one.id} className="quiet">
          {one.name ?? (one.athlete_id === null ? "The squad’s" : "Somebody who has left")}, since{" "}
          {mediumDay(one.made_at.slice(0, 10))}{" "}
          <button type="button" className="text-button" onClick={() => withdraw.mutate(one.id)}>
            Withdraw
          </button>
        </p>
      ))}
    </details>
  );
}
