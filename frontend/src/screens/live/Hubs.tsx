import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type Problem } from "../../api/client";
import { hubsQuery } from "../../api/queries/field";
import { clockTime } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";

/** Before anything has come: how straps get here, and the secret that lets a hub send. */
export function Hubs({ place }: { place: Place }) {
  const may = place.may("import");
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const hubs = useQuery({ ...hubsQuery(slug), enabled: may });
  const [name, setName] = useState("Pitch");
  const [token, setToken] = useState("");
  const make = useMutation<{ token: string }, Problem>({
    mutationFn: () =>
      ask(api.POST("/api/squads/{slug}/hubs", { params: { path: { slug } }, body: { name } })),
    onSuccess: (made) => {
      setToken(made.token);
      askAgain(queries, [slug, "hubs"]);
    },
    onError: (problem) => toast(problem.message),
  });
  const withdraw = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(api.DELETE("/api/squads/{slug}/hubs/{hub_id}", { params: { path: { slug, hub_id: id } } })),
    onSuccess: () => askAgain(queries, [slug, "hubs"]),
    onError: (problem) => toast(problem.message),
  });
  return (
    <section className="live-hubs" aria-label="Hubs">
      <h2>Straps reach this screen through a hub: a small program that posts what they measure.</h2>
      {!may && <p>Performance staff connect one.</p>}
      {hubs.data?.hubs.map((hub) => (
        <p key={hub.id}>
          <b>{hub.name}</b>{" "}
          {hub.seen_at ? `heard at ${clockTime(hub.seen_at, place.squad.time_zone)}` : "not heard yet"}{" "}
          <button type="button" className="text-button" onClick={() => withdraw.mutate(hub.id)}>
            Withdraw
          </button>
        </p>
      ))}
      {may && !token && (
        <form
          className="live-acts"
          onSubmit={(event) => {
            event.preventDefault();
            make.mutate();
          }}
        >
          <input
            aria-label="Name of the hub"
            maxLength={60}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <button type="submit" disabled={!name.trim() || make.isPending}>
            Connect a hub
          </button>
        </form>
      )}
      {token && (
        <div>
          <label>
            The hub’s secret, shown only now
            <input readOnly value={token} onFocus={(event) => event.target.select()} />
          </label>
          <p>
            To try it with simulated straps:{" "}
            <code>uvren hub --address {window.location.origin} --token …</code>
          </p>
        </div>
      )}
    </section>
  );
}
