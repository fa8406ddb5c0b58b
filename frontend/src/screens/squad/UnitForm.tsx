import { Button, Input, Textarea } from "@chakra-ui/react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, type ReactNode, useDeferredValue, useState } from "react";
import { askAgain } from "../../api/askAgain";
import { api, ask, type ChannelItem, type Channels, type Draft, type Problem } from "../../api/client";
import { ChannelMark } from "../../charts/ChannelMark";
import { mediumDay } from "../../frame/days";
import { Labelled, Select } from "../../frame/fields";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { SettingsFields } from "./SettingsFields";
import { readyToSend, type Typed, typedFrom } from "./settings";
import { UnitPreview } from "./UnitPreview";

interface UnitFormProps {
  place: Place;
  data: Channels;
  channel: ChannelItem | null;
  onDone: () => void;
  /** What stands below the preview. */
  children: ReactNode;
}

/** Changes a unit, or makes one; what it would do is shown while it is typed. */
export function UnitForm({ place, data, channel, onDone, children }: UnitFormProps) {
  const slug = place.squad.slug;
  const queries = useQueryClient();
  const toast = useToast();
  const [name, setName] = useState(channel?.name ?? "");
  const [unit, setUnit] = useState(channel?.unit ?? "");
  const [form, setForm] = useState(channel?.definition.form ?? "counted");
  const [settings, setSettings] = useState<Typed>(typedFrom(form, channel?.definition.settings));
  const [kinds, setKinds] = useState<Draft["kinds"]>(channel?.definition.kinds ?? []);
  const [regions, setRegions] = useState<string[]>(channel?.regions ?? []);
  const [mark, setMark] = useState(channel?.mark ?? data.marks.find((one) => !used(data, one)) ?? "ring");
  const [from, setFrom] = useState(place.squad.today);
  const [reason, setReason] = useState("");
  const [recompute, setRecompute] = useState(false);
  const chosen = data.forms.find((one) => one.code === form);

  const draft: Draft = {
    name: name || chosen?.title || "",
    unit: unit || chosen?.unit || "",
    form,
    settings: readyToSend(form, settings),
    kinds,
    regions: regions as Draft["regions"],
    mark,
    from_day: from,
    reason,
  };
  // Typing goes on while the answer to what was typed before comes in.
  const asked = useDeferredValue(
    JSON.stringify({ ...draft, name: "preview", unit: "x", reason: "", from_day: place.squad.today }),
  );
  const preview = useQuery({
    queryKey: [slug, "preview", channel?.code ?? null, asked],
    queryFn: ({ signal }) =>
      ask(
        api.POST("/api/squads/{slug}/channels/preview", {
          params: { path: { slug } },
          body: { draft: JSON.parse(asked), channel: channel?.code ?? null },
          signal,
        }),
      ),
    enabled: kinds.length > 0,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const takeBack = useMutation<ChannelItem, Problem, ChannelItem>({
    mutationFn: (saved) =>
      ask(
        api.DELETE("/api/squads/{slug}/channels/{code}/definitions/{definition_id}", {
          params: { path: { slug, code: saved.code, definition_id: saved.definition.id } },
        }),
      ),
    onSuccess: (saved) => {
      askAgain(queries, [slug]);
      toast(`${saved.name} is worked out as before.`);
    },
    onError: (problem) => toast(problem.message),
  });
  const save = useMutation<ChannelItem, Problem>({
    mutationFn: () => {
      const body = { ...draft, name, unit, recompute };
      return channel
        ? ask(
            api.PUT("/api/squads/{slug}/channels/{code}", {
              params: { path: { slug, code: channel.code } },
              body,
            }),
          )
        : ask(api.POST("/api/squads/{slug}/channels", { params: { path: { slug } }, body }));
    },
    onSuccess: (saved) => {
      askAgain(queries, [slug]);
      const added = saved.definition.id !== channel?.definition.id;
      toast(
        `${saved.name} holds from ${mediumDay(saved.definition.from_day)}.`,
        channel && added ? () => takeBack.mutate(saved) : undefined,
      );
      onDone();
    },
  });
  const refused = save.error ?? (preview.error as Problem | null);
  const error = (field: string) => refused?.of(field);
  const past = from < place.squad.today;
  const submit = (event: FormEvent) => {
    event.preventDefault();
    save.mutate();
  };
  return (
    <>
      <div className="desk-main">
        <UnitPreview
          preview={preview.data}
          stale={preview.isPlaceholderData || preview.isError}
          problem={kinds.length === 0 ? null : preview.error}
          unit={draft.unit}
        />
        {children}
      </div>
      <aside className="desk-side" aria-label="Unit of work">
        <form onSubmit={submit} noValidate>
          <h2 style={{ margin: 0, fontSize: 19, fontWeight: 700 }}>{channel ? channel.name : "New unit"}</h2>
          <div className="form-rows">
            <div className="form-pair">
              <Labelled label="Name" error={error("name")}>
                <Input
                  size="sm"
                  maxLength={60}
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
              </Labelled>
              <Labelled label="Unit it is counted in" error={error("unit")}>
                <Input
                  size="sm"
                  maxLength={24}
                  placeholder={chosen?.unit}
                  value={unit}
                  onChange={(event) => setUnit(event.target.value)}
                />
              </Labelled>
            </div>
            <Labelled label="Form" error={error("form")}>
              <Select
                label="Form"
                value={form}
                disabled={channel?.is_main}
                onChange={(next) => {
                  setForm(next);
                  setSettings(typedFrom(next, undefined));
                }}
              >
                {data.forms.map((one) => (
                  <option key={one.code} value={one.code}>
                    {one.title}
                  </option>
                ))}
              </Select>
            </Labelled>
            <SettingsFields
              form={form}
              settings={settings}
              onChange={setSettings}
              places={data.places.map((one) => one.name)}
              error={error}
            />
            <Group label="Sessions with such work" error={error("kinds")}>
              <Checks all={data.kinds} chosen={kinds} onChange={(next) => setKinds(next as Draft["kinds"])} />
            </Group>
            <Group label="Stresses" error={error("regions")}>
              <Checks all={data.regions} chosen={regions} onChange={setRegions} />
            </Group>
            <Group label="Mark">
              <div className="marks">
                {data.marks.map((one) => (
                  <button
                    key={one}
                    type="button"
                    aria-pressed={mark === one}
                    aria-label={one}
                    onClick={() => setMark(one)}
                  >
                    <ChannelMark mark={one} size={16} />
                  </button>
                ))}
              </div>
            </Group>
            <div className="form-pair">
              <Labelled label="Holds from" error={past && recompute ? undefined : error("from_day")}>
                <Input size="sm" type="date" value={from} onChange={(event) => setFrom(event.target.value)} />
              </Labelled>
              <Labelled label="Reason" error={error("reason")}>
                <Textarea
                  size="sm"
                  rows={1}
                  maxLength={400}
                  value={reason}
                  onChange={(event) => setReason(event.target.value)}
                />
              </Labelled>
            </div>
            {past && (
              <label className="recompute">
                <input
                  type="checkbox"
                  checked={recompute}
                  onChange={(event) => setRecompute(event.target.checked)}
                />
                <span>
                  Work out the loads since then anew. Of the last 8 weeks {preview.data?.days_moved ?? "…"} of{" "}
                  {preview.data?.days ?? "…"} days would change.
                </span>
              </label>
            )}
            {save.error && save.error.errors.length === 0 && (
              <p className="field-error" role="alert">
                {save.error.message}
              </p>
            )}
            <div style={{ display: "flex", gap: 14, alignItems: "center" }}>
              <Button type="submit" size="sm" loading={save.isPending}>
                {channel ? "Save from that day" : "Make the unit"}
              </Button>
              <button type="button" className="text-button" onClick={onDone}>
                Leave as it is
              </button>
            </div>
          </div>
        </form>
      </aside>
    </>
  );
}

const used = (data: Channels, mark: string) => data.channels.some((channel) => channel.mark === mark);

function Group({ label, error, children }: { label: string; error?: string; children: ReactNode }) {
  return (
    <fieldset style={{ border: 0, margin: 0, padding: 0 }}>
      <legend style={{ fontSize: 13, fontWeight: 500, padding: "0 0 5px" }}>{label}</legend>
      {children}
      {error && <p className="field-error">{error}</p>}
    </fieldset>
  );
}

interface ChecksProps {
  all: readonly string[];
  chosen: readonly string[];
  onChange: (chosen: string[]) => void;
}

function Checks({ all, chosen, onChange }: ChecksProps) {
  return (
    <div className="checks">
      {all.map((one) => (
        <label key={one}>
          <input
            type="checkbox"
            checked={chosen.includes(one)}
            onChange={(event) =>
              onChange(event.target.checked ? [...chosen, one] : chosen.filter((other) => other !== one))
            }
          />
          {one}
        </label>
      ))}
    </div>
  );
}
