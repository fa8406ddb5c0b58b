import { Input } from "@chakra-ui/react";
import { Fragment } from "react";
import { Group, Labelled, Select } from "../../kit/fields";
import { newClass, type Typed, type TypedClass } from "./settings";

interface SettingsFieldsProps {
  form: string;
  settings: Typed;
  onChange: (settings: Typed) => void;
  places: string[];
  error: (field: string) => string | undefined;
}

const MEASURES: Record<string, [string, string][]> = {
  lifting: [
    ["tonnage", "kilograms moved (sets × repetitions × kg)"],
    ["hard_sets", "hard sets (at most 4 repetitions in reserve)"],
  ],
  position: [
    ["distance", "distance"],
    ["distance_above", "distance above a speed"],
    ["sprints", "sprints above a speed"],
    ["accelerations", "accelerations"],
    ["decelerations", "decelerations"],
    ["hard_changes", "accelerations and decelerations"],
  ],
  impacts: [
    ["load", "impacts, weighted by band"],
    ["count", "impacts, counted"],
  ],
};

const METHODS: [string, string][] = [
  ["banister", "Banister: impulse from heart rate reserve"],
  ["edwards", "Edwards: minutes in five zones × 1 to 5"],
  ["three_zones", "three zones at the two thresholds × 1, 2, 3"],
];

type PartProps = Omit<SettingsFieldsProps, "onChange" | "places"> & {
  set: (changes: Partial<Typed>) => void;
};

/** The settings of one form. */
export function SettingsFields({ form, settings, onChange, places, error }: SettingsFieldsProps) {
  const set = (changes: Partial<Typed>) => onChange({ ...settings, ...changes });
  const part = { form, settings, set, error };
  const measures = MEASURES[form];
  return (
    <>
      {form === "counted" && <CountedFields {...part} />}
      {form === "heart_rate" && <SettingChoice {...part} name="method" label="Method" options={METHODS} />}
      {measures && <SettingChoice {...part} name="measure" label="What is counted" options={measures} />}
      {form === "position" && ["distance_above", "sprints"].includes(settings.measure) && (
        <SpeedFields {...part} />
      )}
      {form === "impacts" && <ImpactFields {...part} />}
      {places.length > 0 && <PlaceFields {...part} places={places} />}
    </>
  );
}

interface SettingChoiceProps extends PartProps {
  name: "method" | "measure" | "side";
  label: string;
  options: [string, string][];
}

function SettingChoice({ name, label, options, settings, set, error }: SettingChoiceProps) {
  return (
    <Labelled label={label} error={error(`settings.${name}`)}>
      <Select label={label} value={settings[name]} onChange={(next) => set({ [name]: next })}>
        {options.map(([code, said]) => (
          <option key={code} value={code}>
            {said}
          </option>
        ))}
      </Select>
    </Labelled>
  );
}

function CountedFields({ settings, set, error }: PartProps) {
  return (
    <>
      <Classes
        label="Classes: one repetition against the hardest, which is 1"
        name="classes"
        list={settings.classes}
        onChange={(classes) => set({ classes })}
        error={error}
      />
      <Classes
        label="Surfaces, if they matter"
        name="surfaces"
        list={settings.surfaces}
        onChange={(surfaces) => set({ surfaces })}
        error={error}
      />
      <Classes
        label="Postures, if they matter"
        name="postures"
        list={settings.postures}
        onChange={(postures) => set({ postures })}
        error={error}
      />
    </>
  );
}

function SpeedFields({ settings, set, error }: PartProps) {
  return (
    <div className="form-pair">
      <Labelled label="Above, m/s" error={error("settings.speed")}>
        <Input
          size="sm"
          inputMode="decimal"
          value={settings.speed}
          onChange={(event) => set({ speed: event.target.value, share: "" })}
        />
      </Labelled>
      <Labelled label="or % of own maximum" error={error("settings.share")}>
        <Input
          size="sm"
          inputMode="decimal"
          value={settings.share}
          onChange={(event) => set({ share: event.target.value, speed: event.target.value ? "" : "5" })}
        />
      </Labelled>
    </div>
  );
}

const SIDES: [string, string][] = [
  ["both", "both together"],
  ["left", "left"],
  ["right", "right"],
];

function ImpactFields(part: PartProps) {
  const { settings, set, error } = part;
  return (
    <>
      <SettingChoice {...part} name="side" label="Side" options={SIDES} />
      <div className="form-pair">
        <Labelled label="Bands begin at, g" error={error("settings.edges")}>
          <Input size="sm" value={settings.edges} onChange={(event) => set({ edges: event.target.value })} />
        </Labelled>
        <Labelled label="Their weights" error={error("settings.weights")}>
          <Input
            size="sm"
            value={settings.weights}
            onChange={(event) => set({ weights: event.target.value })}
          />
        </Labelled>
      </div>
    </>
  );
}

function PlaceFields({ settings, set, error, places }: PartProps & { places: string[] }) {
  const wrong = places.map((place) => error(`settings.${place}`)).filter(Boolean);
  return (
    <Group label="Factor by place, 1 where nothing is said">
      <div className="weights" style={{ gridTemplateColumns: "1fr 92px" }}>
        {places.map((place) => (
          <Fragment key={place}>
            <span>{place}</span>
            <Input
              size="xs"
              inputMode="decimal"
              placeholder="1"
              aria-label={`Factor of ${place}`}
              aria-invalid={error(`settings.${place}`) ? true : undefined}
              value={settings.places[place] ?? ""}
              onChange={(event) => set({ places: { ...settings.places, [place]: event.target.value } })}
            />
          </Fragment>
        ))}
      </div>
      {wrong.map((why) => (
        <p className="field-error" key={why}>
          {why}
        </p>
      ))}
    </Group>
  );
}

interface ClassesProps {
  label: string;
  name: string;
  list: TypedClass[];
  onChange: (list: TypedClass[]) => void;
  error: (field: string) => string | undefined;
}

function Classes({ label, name, list, onChange, error }: ClassesProps) {
  const change = (at: number, changes: Partial<TypedClass>) =>
    onChange(list.map((one, i) => (i === at ? { ...one, ...changes } : one)));
  const wrong = [error(`settings.${name}`)].concat(
    list.flatMap((_, i) => [error(`settings.${name}.${i}.name`), error(`settings.${name}.${i}.weight`)]),
  );
  return (
    <Group label={label}>
      <div className="weights">
        {list.map((one, i) => (
          <div key={one.key} style={{ display: "contents" }}>
            <Input
              size="xs"
              aria-label={`Name ${i + 1}`}
              aria-invalid={error(`settings.${name}.${i}.name`) ? true : undefined}
              maxLength={60}
              value={one.name}
              onChange={(event) => change(i, { name: event.target.value })}
            />
            <Input
              size="xs"
              aria-label={`Weight of ${one.name || i + 1}`}
              aria-invalid={error(`settings.${name}.${i}.weight`) ? true : undefined}
              inputMode="decimal"
              textAlign="right"
              className="figure"
              value={one.weight}
              onChange={(event) => change(i, { weight: event.target.value })}
            />
            <button
              type="button"
              className="text-button"
              aria-label={`Remove ${one.name || i + 1}`}
              onClick={() => onChange(list.filter((_, other) => other !== i))}
            >
              ×
            </button>
          </div>
        ))}
      </div>
      <button
        type="button"
        className="text-button"
        style={{ marginTop: 5, fontSize: "var(--type-note)" }}
        onClick={() => onChange([...list, newClass()])}
      >
        Add
      </button>
      {wrong.filter(Boolean).map((why) => (
        <p className="field-error" key={why}>
          {why}
        </p>
      ))}
    </Group>
  );
}
