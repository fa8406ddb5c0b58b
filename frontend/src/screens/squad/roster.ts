import type { Pasted } from "../../api/client";

/** A pasted line as it is looked at. `doubtful` is a name that stands already, in the squad or further up. */
export interface Comer {
  line: number;
  takes: boolean;
  name: string;
  number: string;
  position: string;
  from_day: string;
  side: Pasted["side"];
  birth_year: number | null;
  doubtful: boolean;
  there: boolean;
  namesake: boolean;
  unread: string;
}

/** What is offered first: everyone but whose name stands already. */
export function startsOf(pasted: Pasted[], from: string): Comer[] {
  const before = new Set<string>();
  return pasted.map((one) => {
    const name = one.name.toLocaleLowerCase();
    const doubtful = one.there || before.has(name);
    before.add(name);
    return {
      line: one.line,
      takes: !doubtful && one.name !== "",
      name: one.name,
      number: one.number === null ? "" : String(one.number),
      position: one.position,
      from_day: one.from_day ?? from,
      side: one.side,
      birth_year: one.birth_year,
      doubtful,
      there: one.there,
      namesake: false,
      unread: one.unread,
    };
  });
}

/** Those who are taken, as they are sent, each with the line it stands in. */
export function comersOf(comers: Comer[]) {
  return comers.flatMap((one, row) =>
    one.takes
      ? [
          {
            row,
            name: one.name,
            number: one.number.trim() ? Number(one.number) : null,
            position: one.position,
            from_day: one.from_day,
            side: one.side,
            birth_year: one.birth_year,
            namesake: one.namesake,
          },
        ]
      : [],
  );
}

/** What keeps a line that is taken from coming in as it is typed. */
export function wrongIn(one: Comer): string {
  if (!one.takes) return "";
  if (!one.name.trim()) return "An athlete has a name.";
  if (!one.position.trim()) return "Say the position.";
  if (one.number.trim() && !/^\d{1,3}$/.test(one.number.trim())) return "A number is 0 to 999.";
  return one.from_day ? "" : "Say from which day.";
}

/** What has to be known of a line before it comes in. */
export function said(one: Comer): string {
  const parts: string[] = [];
  if (one.there) parts.push("In the squad already.");
  else if (one.doubtful) parts.push("Stands twice in the list.");
  if (one.side) parts.push(`Dominant side ${one.side}.`);
  if (one.birth_year) parts.push(`Born ${one.birth_year}.`);
  if (one.unread) parts.push(`Not read: ${one.unread}.`);
  return parts.join(" ");
}
