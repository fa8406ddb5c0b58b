/** What time it is at the club: its clock, not this device's, which may be wrong. */

let ahead = 0;

export function setClock(now: string) {
  ahead = Date.parse(now) - Date.now();
}

export const clubNow = (): Date => new Date(Date.now() + ahead);
