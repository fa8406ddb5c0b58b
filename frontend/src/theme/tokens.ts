/** Colours and type sizes, once: style sheets have them as custom properties (`--rule-soft`, `--type-note`). */

/** Colours by what they mean. Colour is never the only code: every shape and word says the same. */
export const colour = {
  paper: "#F7F5EF",
  raised: "#FFFFFF",
  /** A row between paper and raised. */
  row: "#FBFAF6",
  rule: "#DAD6CA",
  ruleSoft: "#E8E4DA",
  ink: "#17302D",
  quiet: "#5D6B67",
  kelp: "#1E6E64",
  kelpMiddle: "#5FA095",
  kelpLight: "#9CC4BB",
  kelpDeep: "#17574F",
  paleKelp: "#CFE3DD",
  oat: "#E8DDC3",
  oatAhead: "#F0E9D9",
  hatch: "#CDBD98",
  ceiling: "#7C6A42",
  floor: "#97845A",
  madder: "#A63D2F",
  indigo: "#37518C",
  ochre: "#B97A16",
  ochreText: "#835608",
  plum: "#7A3E78",
} as const;

/** Sizes of type by their use, in pixels. */
export const type = {
  fine: 11,
  small: 12,
  note: 13,
  text: 14,
  body: 15,
  large: 16,
  head: 18,
  title: 20,
  big: 24,
} as const;

/** The same by what they mean on the screen that is read from across a dark hall. */
export const night = {
  ground: "#0B1614",
  raised: "#14221F",
  lift: "#1D2E2A",
  rule: "#2F413C",
  ink: "#F5F1E6",
  quiet: "#A7B5AF",
  kelp: "#5EC4B1",
  madder: "#F2806B",
  indigo: "#93ABF0",
  ochre: "#E3A63C",
  plum: "#D79FD8",
  oat: "#4B422C",
  oatAhead: "#28261C",
  ceiling: "#C9B078",
} as const;

/** Sizes of what is read from some metres away, beside those of type. */
export const far = {
  name: 28,
  time: 38,
  share: 56,
  clock: 76,
} as const;

const kebab = (name: string) => name.replace(/[A-Z]/g, (letter) => `-${letter.toLowerCase()}`);

/** The same as custom properties of the page. */
export const properties = Object.fromEntries([
  ...Object.entries(colour).map(([name, value]) => [`--${kebab(name)}`, value]),
  ...Object.entries(night).map(([name, value]) => [`--night-${kebab(name)}`, value]),
  ...Object.entries(type).map(([name, size]) => [`--type-${name}`, `${size}px`]),
  ...Object.entries(far).map(([name, size]) => [`--far-${name}`, `${size}px`]),
]);
