import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { memo, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Morning, type Problem } from "../../api/client";
import { viewsQuery } from "../../api/queries/morning";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Select } from "../../kit/fields";
import { ORDERS, orderOf, REGION } from "./words";

/** What of the address a view is made of. */
const PARTS = ["order", "show", "columns", "channel"];

/** Order, filter, columns and saved views; all of it stands in the address. */
export const DeskTools = memo(function DeskTools({ morning, place }: { morning: Morning; place: Place }) {
  const positions = [...new Set(morning.lanes.map((lane) => lane.position))].sort();
  const regions = [
    ...new Set(morning.lanes.flatMap((lane) => lane.notices.flatMap((notice) => notice.regions))),
  ].sort();
  const columns = (place.get("columns") ?? "").split(",").filter(Boolean);
  const others = morning.channels.filter((channel) => channel.code !== morning.channel.code);
  const toggle = (code: string) => {
    const after = columns.includes(code) ? columns.filter((one) => one !== code) : [...columns, code];
    place.set({ columns: after.join(",") || null }, true);
  };
  return (
    <div className="desk-choices">
      <Select
        size="xs"
        label="Order by"
        value={orderOf(place.get("order"))}
        onChange={(value) => place.set({ order: value === "need" ? null : value }, true)}
      >
        {Object.entries(ORDERS).map(([code, name]) => (
          <option key={code} value={code}>
            by {name}
          </option>
        ))}
      </Select>
      <Select
        size="xs"
        label="Show"
        value={place.get("show") ?? ""}
        onChange={(value) => place.set({ show: value || null }, true)}
      >
        <option value="">everyone</option>
        <option value="open">whose state needs a call</option>
        <option value="change">whose plan needs a change</option>
        <option value="new">new since yesterday</option>
        <option value="missing">something missing</option>
        <optgroup label="Position">
          {positions.map((position) => (
            <option key={position} value={position}>
              {position}
            </option>
          ))}
        </optgroup>
        {regions.length > 0 && (
          <optgroup label="Noticed of the">
            {regions.map((region) => (
              <option key={region} value={REGION + region}>
                {region}
              </option>
            ))}
          </optgroup>
        )}
      </Select>
      {others.length > 0 && (
        <details className="columns-choice">
          <summary>Columns{columns.length > 0 && ` (${columns.length})`}</summary>
          <div>
            {others.map((channel) => (
              <label key={channel.code}>
                <input
                  type="checkbox"
                  checked={columns.includes(channel.code)}
                  onChange={() => toggle(channel.code)}
                />{" "}
                room on {channel.name.toLowerCase()}
              </label>
            ))}
          </div>
        </details>
      )}
      <Views place={place} />
    </div>
  );
});

function Views({ place }: { place: Place }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const views = useQuery(viewsQuery(slug));
  const [name, setName] = useState<string | null>(null);
  const query = new URLSearchParams(
    PARTS.flatMap((part) => {
      const value = place.get(part);
      return value ? [[part, value]] : [];
    }),
  ).toString();
  const renew = () => askAgain(queries, viewsQuery(slug).queryKey);
  const save = useMutation<unknown, Problem, string>({
    mutationFn: (wanted) =>
      ask(
        api.POST("/api/squads/{slug}/views", { params: { path: { slug } }, body: { name: wanted, query } }),
      ),
    onSuccess: () => {
      toast(`The view ${name} is saved.`);
      setName(null);
      renew();
    },
  });
  const remove = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(api.DELETE("/api/squads/{slug}/views/{view_id}", { params: { path: { slug, view_id: id } } })),
    onSettled: renew,
  });
  const open = (text: string) => {
    const wanted = new URLSearchParams(text);
    place.set(Object.fromEntries(PARTS.map((part) => [part, wanted.get(part)])), true);
  };
  const standing = views.data?.views ?? [];
  const here = standing.find((view) => view.query === query);
  if (name !== null)
    return (
      <form
        className="view-form"
        onSubmit={(event) => {
          event.preventDefault();
          save.mutate(name);
        }}
      >
        <input
          // biome-ignore lint/a11y/noAutofocus: it was just asked for
          autoFocus
          aria-label="Name of the view"
          placeholder="name of the view"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === "Escape" && setName(null)}
        />
        <button type="submit" className="text-button">
          Save
        </button>
        {save.isError && (
          <span role="alert" className="over">
            {save.error.message}
          </span>
        )}
      </form>
    );
  return (
    <>
      {standing.length > 0 && (
        <Select
          size="xs"
          label="Saved views"
          value={here?.id ?? ""}
          onChange={(id) => open(standing.find((view) => view.id === id)?.query ?? "")}
        >
          <option value="">{here ? "as it opens" : "views"}</option>
          {standing.map((view) => (
            <option key={view.id} value={view.id}>
              {view.name}
            </option>
          ))}
        </Select>
      )}
      {here ? (
        <button type="button" className="text-button" onClick={() => remove.mutate(here.id)}>
          Remove this view
        </button>
      ) : (
        query && (
          <button type="button" className="text-button" onClick={() => setName("")}>
            Save this view
          </button>
        )
      )}
    </>
  );
}
