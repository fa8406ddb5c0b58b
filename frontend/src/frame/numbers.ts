/** Numbers as the screens write them: thin space for thousands, a minus that is one. */

const whole = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 0 });
const upToOne = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 1, useGrouping: false });

export const load = (value: number) => whole.format(value).replaceAll(",", "\u2009").replace("-", "−");

/** Room is rounded down: what is shown can always be added. */
export const room = (value: number) => load(Math.floor(value + 1e-6));

export const short = (value: number) => upToOne.format(value);

/** Results of tests: with the decimals that a value of the size of `like` can be trusted for. */
export function fine(value: number, like = value): string {
  const size = Math.abs(like);
  return value.toFixed(size >= 100 ? 0 : size >= 10 ? 1 : 2).replace("-", "−");
}
