import { Button, Input, Skeleton } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type NoticeKind, type Notices, type Problem, type TuneBody } from "../../api/client";
import { noticesQuery } from "../../api/queries/morning";
import { mediumDay } from "../../frame/days";
import { Message } from "../../frame/Message";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { usePeople } from "../../frame/usePeople";
import { Labelled, Select, typedNumber } from "../../kit/fields";
import { CAUSES } from "../morning/words";
import { EarlierSettings } from "./EarlierSettings";
import { SquadTabs } from "./SquadTabs";
import { WornRates } from "./WornRates";
import "./squad.css";

const AUDIENCE = {
  desk: "everyone at the desk",
  reports: "who may read reports",
  clinical: "who may read clinical detail",
} as const;

const STRANDS = { state: "of the person", plan: "of the plan", beside: "beside" } as const;

/** Every kind of notice: when it is found, what clears it, and how it is tuned for this squad. */
export default function NoticesScreen({ place }: { place: Place }) {
  const notices = useQuery(noticesQuery(place.squad.slug, place.day));
  const asked = place.get("notice");
  if (notices.isError)
    return (
      <Message title="The notices could not be loaded" action="Try again" onAction={() => notices.refetch()}>
        {notices.error.message}
      </Message>
    );
  const data = notices.data;
  const chosen = data?.kinds.find((kind) => kind.code === asked);
  return (
    <>
      <SquadTabs place={place} />
      <div className="summary">
        <h1>
          <b>{data ? `${data.kinds.length} kinds of notice` : "Notices"}</b>, each evidence with numbers, none
          a score
        </h1>
      </div>
      <div className="desk">
        <div className="desk-main">
          {!data ? (
            <Skeleton height="300px" m="5" />
          ) : (
            <table className="plain-table notices-table">
              <thead>
                <tr>
                  <th scope="col">Notice</th>
                  <th scope="col">Found when</th>
                  <th scope="col">Tuned here</th>
                </tr>
              </thead>
              <tbody>
                {data.kinds.map((kind) => (
                  <tr key={kind.code} className={kind === chosen ? "chosen" : undefined}>
                    <td>
                      <button
                        type="button"
                        className="text-button plain"
                        onClick={() => place.set({ notice: kind.code }, true)}
                      >
                        {kind.name}
                      </button>
                      <div className="quiet">
                        {CAUSES[kind.cause]}, {STRANDS[kind.strand]}
                      </div>
                    </td>
                    <td>{kind.rule}</td>
                    <td>
                      {data.tuned
                        .filter((one) => one.code === kind.code)
                        .map((one) => (
                          <div key={one.id}>
                            {one.whom}: <b>{one.said}</b>
                          </div>
                        ))}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </div>
        <aside className={`desk-side${chosen ? "" : " closed"}`} aria-label="A notice">
          {chosen && data ? (
            <Kind key={chosen.code} place={place} kind={chosen} notices={data} />
          ) : (
            <p className="quiet">Pick a notice to see its settings, its source, and who may read it.</p>
          )}
        </aside>
      </div>
    </>
  );
}

function Kind({ place, kind, notices }: { place: Place; kind: NoticeKind; notices: Notices }) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const renew = () => askAgain(queries, [slug]);
  const takeBack = useMutation<unknown, Problem, string>({
    mutationFn: (id) =>
      ask(
        api.DELETE("/api/squads/{slug}/notices/{setting_id}", { params: { path: { slug, setting_id: id } } }),
      ),
    onSuccess: () => {
      toast("The setting is taken back.");
      renew();
    },
    onError: (problem) => toast(problem.message),
  });
  const tuned = notices.tuned.filter((one) => one.code === kind.code);
  return (
    <>
      <h2 className="side-head">{kind.name}</h2>
      <p>{kind.rule}</p>
      <p>
        <span className="quiet">Clears with:</span> {kind.cleared}
      </p>
      <p>
        <span className="quiet">Source:</span> {kind.source}
      </p>
      <p>
        <span className="quiet">Read by</span> {AUDIENCE[kind.audience]}
        <span className="quiet">; can be</span> {kind.severities.join(", ")}.
      </p>
      {tuned.map((one) => (
        <p key={one.id}>
          {one.whom}: <b>{one.said}</b>{" "}
          <span className="quiet">
            {one.set_by}, from {mediumDay(one.from_day)}
            {one.reason && `; ${one.reason}`}
          </span>{" "}
          {place.may("edit_limits") && (
            <button type="button" className="text-button" onClick={() => takeBack.mutate(one.id)}>
              Take back
            </button>
          )}
        </p>
      ))}
      <EarlierSettings settings={notices.earlier.filter((one) => one.code === kind.code)} />
      {kind.code === "worn" && <WornRates place={place} />}
      {place.may("edit_limits") && <Tune place={place} kind={kind} onDone={renew} />}
    </>
  );
}

function Tune({ place, kind, onDone }: { place: Place; kind: NoticeKind; onDone: () => void }) {
  const toast = useToast();
  const [whom, setWhom] = useState("squad");
  const [off, setOff] = useState(false);
  const [typed, setTyped] = useState<Record<string, string>>({});
  const [reason, setReason] = useState("");
  const { athletes, positions } = usePeople(place);
  const save = useMutation<unknown, Problem>({
    mutationFn: () => {
      const athlete = athletes.find((one) => `athlete ${one.athlete_id}` === whom);
      const body: TuneBody = {
        code: kind.code,
        scope: athlete ? "athlete" : whom === "squad" ? "squad" : "position",
        athlete_id: athlete?.athlete_id ?? null,
        position: athlete || whom === "squad" ? null : whom,
        off,
        values: Object.fromEntries(
          Object.entries(typed)
            .filter(([, text]) => text.trim())
            .map(([key, text]) => [key, typedNumber(text)]),
        ),
        reason,
      };
      return ask(
        api.POST("/api/squads/{slug}/notices", { params: { path: { slug: place.squad.slug } }, body }),
      );
    },
    onSuccess: () => {
      toast(`${kind.name}: tuned from ${"rate" in typed ? "the next Monday" : "today"} on.`);
      setTyped({});
      setOff(false);
      setReason("");
      onDone();
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <form className="form-rows" onSubmit={submit} noValidate>
      <h3 className="side-head">Tune it from today on</h3>
      <Select label="For whom" value={whom} onChange={setWhom}>
        <option value="squad">the whole squad</option>
        {positions.map((position) => (
          <option key={position} value={position}>
            position {position}
          </option>
        ))}
        {athletes.map((one) => (
          <option key={one.athlete_id} value={`athlete ${one.athlete_id}`}>
            {one.name}
          </option>
        ))}
      </Select>
      <label className="tick-line">
        <input type="checkbox" checked={off} onChange={(event) => setOff(event.target.checked)} /> Off
      </label>
      {!off &&
        kind.settings
          .filter((setting) => !setting.of_squad || whom === "squad")
          .map((setting) => (
            <Labelled
              key={setting.key}
              label={`${setting.name}${setting.unit ? `, ${setting.unit}` : ""} (usual ${setting.default})`}
              error={save.error?.of(`values.${setting.key}`)}
            >
              <Input
                size="sm"
                inputMode="decimal"
                placeholder={String(setting.default)}
                value={typed[setting.key] ?? ""}
                onChange={(event) => setTyped({ ...typed, [setting.key]: event.target.value })}
              />
            </Labelled>
          ))}
      <Labelled label="Why" error={save.error?.of("reason")}>
        <Input size="sm" value={reason} onChange={(event) => setReason(event.target.value)} />
      </Labelled>
      {save.isError && save.error.errors.length === 0 && (
        <p role="alert" className="over">
          {save.error.message}
        </p>
      )}
      <div>
        <Button type="submit" size="sm" loading={save.isPending}>
          Tune it
        </Button>
      </div>
    </form>
  );
}
