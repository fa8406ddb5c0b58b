/** Numbers as the screens write them: thin space for thousands, a minus that is one. */

const whole = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 0 });
const upToOne = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 1, useGrouping: false });

export const load = (value: number) => whole.format(value).replaceAll(",", "\u2009").replace("-", "−");

/** Room is rounded down: what is shown can always be added. */
export const room = (value: number) => load(Math.floor(value + 1e-6));

export const short = (value: number) => upToOne.format(value);

const fourFigures = new Intl.NumberFormat("en-GB", { maximumSignificantDigits: 4, useGrouping: false });

/** Results of tests: as many decimals as four figures leave. */
export const fine = (value: number) => fourFigures.format(value).replace("-", "−");
