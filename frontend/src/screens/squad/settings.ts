/** Settings of a unit as they are typed, and as they are sent. */

import { typedNumber } from "../../kit/fields";

export interface TypedClass {
  key: number;
  code: string;
  name: string;
  weight: string;
}

export interface Typed {
  classes: TypedClass[];
  surfaces: TypedClass[];
  postures: TypedClass[];
  places: Record<string, string>;
  measure: string;
  method: string;
  speed: string;
  share: string;
  side: string;
  edges: string;
  weights: string;
}

interface GivenClass {
  code: string;
  name: string;
  weight: number;
}

let keys = 0;
export const newClass = (code = "", name = "", weight = ""): TypedClass => {
  keys += 1;
  return { key: keys, code, name, weight };
};

const classes = (given: unknown): TypedClass[] =>
  Array.isArray(given)
    ? (given as GivenClass[]).map((one) => newClass(one.code, one.name, String(one.weight)))
    : [];

const FIRST_MEASURE: Record<string, string> = {
  lifting: "tonnage",
  position: "distance_above",
  impacts: "load",
};

/** What the fields of a form begin with. */
export function typedFrom(form: string, given: Record<string, unknown> | undefined): Typed {
  const text = (name: string, other = "") => (given?.[name] == null ? other : String(given[name]));
  const list = (name: string, other: string) =>
    Array.isArray(given?.[name]) ? (given[name] as number[]).join("; ") : other;
  const share = given?.share == null ? "" : String(Math.round(Number(given.share) * 1e6) / 1e4);
  return {
    classes: given
      ? classes(given.classes)
      : form === "counted"
        ? [newClass("", "", "1"), newClass("", "", "0.5")]
        : [],
    surfaces: classes(given?.surfaces),
    postures: classes(given?.postures),
    places: Object.fromEntries(
      Object.entries((given?.places as Record<string, number>) ?? {}).map(([name, factor]) => [
        name,
        String(factor),
      ]),
    ),
    measure: text("measure", FIRST_MEASURE[form] ?? ""),
    method: text("method", "banister"),
    speed: text("speed", share ? "" : "5"),
    share,
    side: text("side", "both"),
    edges: list("edges", "2; 4; 6; 8; 10"),
    weights: list("weights", "1; 2; 3.5; 5; 8"),
  };
}

/** A number where it is one, else the text itself, so that the server says what is wrong with it at its place. */
const number = (text: string): number | string => {
  const value = typedNumber(text);
  return Number.isNaN(value) ? text : value;
};

const sent = (typed: TypedClass[]) =>
  typed
    .filter((one) => one.name.trim() || one.weight.trim())
    .map((one) => ({
      code: one.code || one.name.trim().toLowerCase(),
      name: one.name.trim(),
      weight: number(one.weight),
    }));

/** The settings that belong to the form. */
export function readyToSend(form: string, typed: Typed): Record<string, unknown> {
  const out: Record<string, unknown> = {};
  const places = Object.entries(typed.places).filter(([, factor]) => factor.trim() !== "");
  if (places.length) out.places = Object.fromEntries(places.map(([name, factor]) => [name, number(factor)]));
  if (form === "counted") {
    out.classes = sent(typed.classes);
    for (const name of ["surfaces", "postures"] as const) {
      const list = sent(typed[name]);
      if (list.length) out[name] = list;
    }
  } else if (form === "heart_rate") out.method = typed.method;
  else if (form === "lifting" || form === "position" || form === "impacts") out.measure = typed.measure;
  if (form === "position" && ["distance_above", "sprints"].includes(typed.measure)) {
    if (typed.share.trim()) {
      const share = number(typed.share);
      out.share = typeof share === "number" ? share / 100 : share;
    } else out.speed = number(typed.speed);
  }
  if (form === "impacts") {
    out.side = typed.side;
    const list = (text: string) =>
      text
        .split(/[;\s]+/)
        .filter(Boolean)
        .map(number);
    out.edges = list(typed.edges);
    out.weights = list(typed.weights);
  }
  return out;
}
