import type { ReactNode } from "react";
import { api, ask, type ChannelItem, type Channels } from "../../api/client";
import { ChannelMark } from "../../charts/ChannelMark";
import { mediumDay } from "../../frame/days";
import type { Place } from "../../frame/place";
import { useToast } from "../../frame/toast";
import { Checks, Group } from "../../kit/fields";
import { AreaField, ChoiceField, Form, type Sending, TextField, useSending } from "../../kit/form";
import { Beside } from "../../kit/Panel";
import { useDoing } from "../../kit/useDoing";
import { SettingsFields } from "./SettingsFields";
import { typedFrom } from "./settings";
import { begun, readyUnit, type TypedUnit } from "./typedUnit";
import { UnitPreview } from "./UnitPreview";
import { useUnitPreview } from "./useUnitPreview";

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
  const { slug, today } = place.squad;
  const of = useUnit(place, data, channel, onDone);
  const { typed } = of;
  const chosen = data.forms.find((one) => one.code === typed.form);
  const preview = useUnitPreview(slug, channel, typed, today);
  const wrong = (...fields: string[]) =>
    of.wrong(...fields) ?? fields.map((one) => preview.error?.of(one)).find(Boolean);
  const set = of.form.setValue;
  return (
    <Beside
      label="Unit of work"
      panel={
        <Form
          of={of}
          head={channel ? channel.name : "New unit"}
          action={channel ? "Save from that day" : "Make the unit"}
          onLeave={onDone}
        >
          <div className="form-pair">
            <TextField of={of} name="name" label="Name" maxLength={60} />
            <TextField
              of={of}
              name="unit"
              label="Unit it is counted in"
              maxLength={24}
              placeholder={chosen?.unit}
            />
          </div>
          <ChoiceField
            of={of}
            name="form"
            label="Form"
            options={data.forms.map((one) => [one.code, one.title])}
            disabled={channel?.is_main}
            onChosen={(next) => set("settings", typedFrom(next, undefined))}
          />
          <SettingsFields
            form={typed.form}
            settings={typed.settings}
            onChange={(settings) => set("settings", settings)}
            places={data.places.map((one) => one.name)}
            error={wrong}
          />
          <Group label="Sessions with such work" error={wrong("kinds")}>
            <Checks all={data.kinds} chosen={typed.kinds} onChange={(kinds) => set("kinds", kinds)} />
          </Group>
          <Group label="Stresses" error={wrong("regions")}>
            <Checks
              all={data.regions}
              chosen={typed.regions ?? []}
              onChange={(next) => set("regions", next)}
            />
          </Group>
          <Marks marks={data.marks} chosen={typed.mark} onChosen={(mark) => set("mark", mark)} />
          <FromWhen of={of} today={today} moved={preview.data} />
        </Form>
      }
    >
      <UnitPreview
        preview={preview.data}
        stale={preview.isPlaceholderData || preview.isError}
        problem={typed.kinds.length === 0 ? null : preview.error}
        unit={typed.unit || chosen?.unit || ""}
      />
      {children}
    </Beside>
  );
}

/** Saving a unit; a change can be taken back. */
function useUnit(place: Place, data: Channels, channel: ChannelItem | null, onDone: () => void) {
  const { slug, today } = place.squad;
  const toast = useToast();
  const takeBack = useDoing(
    [slug],
    (saved: ChannelItem) =>
      ask(
        api.DELETE("/api/squads/{slug}/channels/{code}/definitions/{definition_id}", {
          params: { path: { slug, code: saved.code, definition_id: saved.definition.id } },
        }),
      ),
    (saved) => toast(`${saved.name} is worked out as before.`),
  );
  return useSending<TypedUnit, ChannelItem>({
    start: begun(data, channel, today),
    seen: channel?.version,
    send: (typed, seen) => {
      const body = { ...readyUnit(typed), recompute: typed.recompute, version: seen as number | null };
      if (!channel) return ask(api.POST("/api/squads/{slug}/channels", { params: { path: { slug } }, body }));
      const path = { slug, code: channel.code };
      return ask(api.PUT("/api/squads/{slug}/channels/{code}", { params: { path }, body }));
    },
    saved: (saved) => {
      const added = saved.definition.id !== channel?.definition.id;
      toast(
        `${saved.name} holds from ${mediumDay(saved.definition.from_day)}.`,
        channel && added ? () => takeBack.mutate(saved) : undefined,
      );
      onDone();
    },
    renews: [slug],
  });
}

interface MarksProps {
  marks: string[];
  chosen: string;
  onChosen: (mark: string) => void;
}

function Marks({ marks, chosen, onChosen }: MarksProps) {
  return (
    <Group label="Mark">
      <div className="marks">
        {marks.map((one) => (
          <button
            key={one}
            type="button"
            aria-pressed={chosen === one}
            aria-label={one}
            onClick={() => onChosen(one)}
          >
            <ChannelMark mark={one} size={16} />
          </button>
        ))}
      </div>
    </Group>
  );
}

interface FromWhenProps {
  of: Sending<TypedUnit>;
  today: string;
  moved: { days_moved: number; days: number } | undefined;
}

/** From which day, and why; a day that has passed moves loads, and needs a yes. */
function FromWhen({ of, today, moved }: FromWhenProps) {
  const { from, recompute } = of.typed;
  const past = from < today;
  return (
    <>
      <div className="form-pair">
        <TextField
          of={of}
          name="from"
          also={past && recompute ? [] : ["from_day"]}
          label="Holds from"
          type="date"
        />
        <AreaField of={of} name="reason" label="Reason" rows={1} maxLength={400} />
      </div>
      {past && (
        <label className="recompute">
          <input type="checkbox" {...of.form.register("recompute")} />
          <span>
            Work out the loads since then anew. Of the last 8 weeks {moved?.days_moved ?? "…"} of{" "}
            {moved?.days ?? "…"} days would change.
          </span>
        </label>
      )}
    </>
  );
}
