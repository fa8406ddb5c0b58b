import type { components } from "../api/schema";

type Kind = components["schemas"]["FilePreviewOut.SessionKind"];

/** Kinds of session, as they are called on screen. */
export const SESSION_KINDS: Record<Kind, string> = {
  court: "court",
  field: "field",
  gym: "gym",
  run: "run",
  ride: "ride",
  swim: "swim",
  ski: "ski",
  rounds: "contact rounds",
  skills: "skills",
  throwing: "throwing",
  swings: "swings",
  recovery: "recovery",
  match: "match or competition",
};
