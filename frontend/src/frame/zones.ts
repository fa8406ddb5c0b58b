/** What somebody can be in squads of their own making, in the order in which they are offered. */
export const OWN_ROLES = ["performance", "coach", "clinician"] as const;
export const ROLE_NAMES = { performance: "performance staff" };
export type OwnRole = (typeof OWN_ROLES)[number];

/** The time zone of this browser. */
export const ownZone = () => Intl.DateTimeFormat().resolvedOptions().timeZone || "UTC";

/** Every time zone that this browser knows, with its own and `also` among them. */
export function zones(also?: string): string[] {
  const known = new Set(Intl.supportedValuesOf("timeZone"));
  for (const one of ["UTC", ownZone(), also]) if (one) known.add(one);
  return [...known].sort();
}
