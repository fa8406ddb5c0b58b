import { Input } from "@chakra-ui/react";
import type { Allowed, Problem } from "../../api/client";
import { Labelled, Select, typedNumber } from "../../kit/fields";
import { AVAILABILITY } from "./reports";

/** What a clinician allows, as typed; the numbers are still text. */
export interface AllowedDraft {
  availability: Allowed["availability"];
  change: string;
  reason: string;
  /** Share of the planned minutes in per cent, empty for all of them. */
  share: string;
  /** Effort at most. */
  cap: string;
  until: string;
}

export const NOTHING_ALLOWED: AllowedDraft = {
  availability: "out",
  change: "",
  reason: "",
  share: "",
  cap: "",
  until: "",
};

const orNull = (text: string) => (text.trim() === "" ? null : typedNumber(text));

/** What is sent of it. Numbers are those of training in part alone. */
export function allowedOf(draft: AllowedDraft): Allowed {
  const inPart = draft.availability === "limited";
  const share = inPart ? orNull(draft.share) : null;
  return {
    availability: draft.availability,
    change: draft.availability === "full" ? "" : draft.change,
    reason: draft.reason,
    minutes_share: share === null ? null : share / 100,
    effort_cap: inPart ? orNull(draft.cap) : null,
    to_day: draft.until || null,
  };
}

interface AllowedFieldsProps {
  draft: AllowedDraft;
  onChange: (draft: AllowedDraft) => void;
  problem: Problem | null;
  /** Where these fields stand in what is sent, such as "allowed.". */
  at?: string;
}

/** How much someone may train: everyone reads what is to change, nobody but clinicians why. */
export function AllowedFields({ draft, onChange, problem, at = "" }: AllowedFieldsProps) {
  const set = (changes: Partial<AllowedDraft>) => onChange({ ...draft, ...changes });
  const error = (field: string) => problem?.of(`${at}${field}`) ?? problem?.of(field);
  return (
    <>
      <Select
        label="How much"
        value={draft.availability}
        onChange={(value) => set({ availability: value as Allowed["availability"] })}
      >
        {Object.entries(AVAILABILITY).map(([code, name]) => (
          <option key={code} value={code}>
            {name}
          </option>
        ))}
      </Select>
      {draft.availability === "limited" && (
        <div className="form-pair">
          <Labelled label="Minutes, % of the plan" error={error("minutes_share")}>
            <Input
              size="sm"
              inputMode="decimal"
              placeholder="all"
              value={draft.share}
              onChange={(event) => set({ share: event.target.value })}
            />
          </Labelled>
          <Labelled label="Effort at most" error={error("effort_cap")}>
            <Input
              size="sm"
              inputMode="decimal"
              placeholder="as planned"
              value={draft.cap}
              onChange={(event) => set({ cap: event.target.value })}
            />
          </Labelled>
        </div>
      )}
      {draft.availability !== "full" && (
        <Labelled label="What to change in training; the coach reads this" error={error("change")}>
          <Input size="sm" value={draft.change} onChange={(event) => set({ change: event.target.value })} />
        </Labelled>
      )}
      <Labelled label="Why; for clinicians" error={error("reason")}>
        <Input size="sm" value={draft.reason} onChange={(event) => set({ reason: event.target.value })} />
      </Labelled>
      <Labelled label="Last day, if it is known" error={error("to_day")}>
        <Input
          size="sm"
          type="date"
          value={draft.until}
          onChange={(event) => set({ until: event.target.value })}
        />
      </Labelled>
    </>
  );
}
