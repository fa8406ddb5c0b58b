import { Input } from "@chakra-ui/react";
import type { FileSpec, People } from "../../api/client";
import { Labelled, Select, typedNumber } from "../../kit/fields";
import { WRITINGS } from "./fileWords";
import type { LookPart } from "./LookTable";

interface LookFieldsProps extends LookPart {
  /** The squad's time zone. */
  zone: string;
  athletes: People["athletes"];
}

/** How a file is read beside its columns: what a row is, how times are written, whose it is. */
export function LookFields({ seen, spec, onChange, zone, athletes }: LookFieldsProps) {
  const named = spec.columns.some((use) => use.role === "athlete" || use.role === "last_name");
  const athleteOfFile = !named && spec.kind !== "fixtures" && spec.kind !== "roster";
  const recorded = spec.kind === "samples";
  return (
    <div className="look-fields">
      <Times seen={seen} spec={spec} onChange={onChange} zone={zone} />
      {athleteOfFile && (
        <Labelled label="Athlete of the file">
          <Select
            size="xs"
            label="Athlete of the file"
            value={spec.athlete == null ? "" : String(spec.athlete)}
            onChange={(id) => onChange({ athlete: id ? Number(id) : null })}
          >
            <option value="">as its name says</option>
            {athletes.map((one) => (
              <option key={one.athlete_id} value={one.athlete_id}>
                {one.name}
              </option>
            ))}
          </Select>
        </Labelled>
      )}
      {recorded && <OfDevice seen={seen} spec={spec} onChange={onChange} />}
    </div>
  );
}

/** What a row is, and how its time is written: without a date the day is asked, without a clock the beginning too. */
function Times({ seen, spec, onChange, zone: squads }: LookPart & { zone: string }) {
  const relative = ["seconds", "milliseconds", "minutes"].includes(spec.writing ?? "");
  const dayless = relative || spec.writing === "clock";
  return (
    <>
      <Labelled label="Each row is">
        <Select
          size="xs"
          label="Each row is"
          value={spec.kind}
          onChange={(kind) => onChange({ kind: kind as FileSpec["kind"] })}
        >
          <option value="samples">a sample of a recording</option>
          <option value="sessions">an athlete’s session</option>
          <option value="reports">a morning’s report</option>
          <option value="tests">results of tests</option>
          <option value="fixtures">a match to come</option>
          <option value="roster">a person</option>
        </Select>
      </Labelled>
      <Labelled label="Times are written">
        <Select
          size="xs"
          label="Times are written"
          value={spec.writing ?? ""}
          onChange={(writing) => onChange({ writing: (writing || null) as FileSpec["writing"] })}
        >
          <option value="">{spec.kind === "samples" ? "not at all" : "as found, or as answered"}</option>
          {seen.writings.map((writing) => (
            <option key={writing} value={writing}>
              {WRITINGS[writing]}
            </option>
          ))}
        </Select>
      </Labelled>
      <Labelled label="Local times are of">
        <Select
          size="xs"
          label="Local times are of"
          value={spec.zone ?? ""}
          onChange={(zone) => onChange({ zone })}
        >
          {[...new Set([spec.zone ?? "", squads, "UTC"])].map((zone) => (
            <option key={zone}>{zone}</option>
          ))}
        </Select>
      </Labelled>
      {dayless && (
        <Labelled label="Day">
          <Input
            size="xs"
            type="date"
            value={spec.day ?? ""}
            onChange={(event) => onChange({ day: event.target.value || null })}
          />
        </Labelled>
      )}
      {relative && (
        <Labelled label="Began at">
          <Input
            size="xs"
            type="time"
            step={1}
            value={spec.begins ?? ""}
            onChange={(event) => onChange({ begins: event.target.value || null })}
          />
        </Labelled>
      )}
    </>
  );
}

/** What only a recording has: the device that made it, and how far its clock was off. */
function OfDevice({ spec, onChange }: LookPart) {
  return (
    <>
      <Labelled label="Clock is off by, s">
        <Input
          size="xs"
          inputMode="decimal"
          defaultValue={spec.offset_seconds ? String(-spec.offset_seconds) : ""}
          placeholder="0"
          onBlur={(event) => {
            const typed = typedNumber(event.target.value || "0");
            if (!Number.isNaN(typed) && -typed !== spec.offset_seconds) onChange({ offset_seconds: -typed });
          }}
        />
      </Labelled>
      <Labelled label="Device">
        <Input
          size="xs"
          maxLength={120}
          defaultValue={spec.device}
          placeholder="strap, pod …"
          onBlur={(event) => event.target.value !== spec.device && onChange({ device: event.target.value })}
        />
      </Labelled>
    </>
  );
}
