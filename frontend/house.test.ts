import { readdirSync, readFileSync } from "node:fs";
import { basename, join } from "node:path";
import ts from "typescript";
import { expect, it } from "vitest";
import { colour, properties, type } from "./src/theme/tokens";

const files = readdirSync("src", { recursive: true, withFileTypes: true })
  .filter((one) => one.isFile())
  .map((one) => join(one.parentPath, one.name))
  .filter((path) => !/\.test\.|schema\.d\.ts$/.test(path));
const text = new Map(files.map((path) => [path, readFileSync(path, "utf8")]));
const matching = (name: RegExp, found: RegExp) =>
  [...text].filter(([path]) => name.test(path)).flatMap(([path, all]) =>
    [...all.matchAll(found)].map((match) => `${basename(path)}: ${match[0]}`),
  );

/** Named functions of a file, with how many lines each has. */
function* lengths(path: string, all: string): Generator<[string, number]> {
  const source = ts.createSourceFile(path, all, ts.ScriptTarget.Latest, true);
  const line = (position: number) => source.getLineAndCharacterOfPosition(position).line;
  for (const statement of source.statements) {
    const named = ts.isVariableStatement(statement)
      ? [...statement.declarationList.declarations]
      : ts.isFunctionDeclaration(statement)
        ? [statement]
        : [];
    for (const one of named)
      yield [one.name?.getText() ?? "", line(one.end) - line(one.getStart()) + 1];
  }
}

it("has no component or hook of more than 120 lines", () => {
  const long = [...text]
    .filter(([path]) => /\.tsx?$/.test(path))
    .flatMap(([path, all]) => [...lengths(path, all)].filter(([, lines]) => lines > 120));
  expect(long).toEqual([]);
  // Every file is parsed: a machine with other work takes its time.
}, 60_000);

it("says every colour once, as a token", () => {
  expect(matching(/(?<!tokens)\.(tsx?|css)$/, /#[0-9a-f]{6}\b/gi)).toEqual([]);
});

it("has at most nine sizes of type, and no other", () => {
  expect(new Set(Object.values(type)).size).toBe(Object.values(type).length);
  expect(Object.values(type).length).toBeLessThanOrEqual(9);
  // Letters in a drawing that is scaled as a whole are of the drawing's own measure.
  const sizes = matching(/\.(tsx?|css)$/, /font-?size["']?[:=]\s*["{]?[\d.]+(px|rem|em)?/gi);
  expect(sizes).toEqual(["phone.css: font-size: 7px"]);
  // As an attribute of a drawing's words a size is lost: the page's reset of all type is stronger.
  const drawn = matching(/\.tsx$/, /<(text|tspan)\b[^>]*\b(fontSize|fontWeight)=/g);
  expect(drawn).toEqual([]);
});

it("uses no property of the page that is not there", () => {
  const own = new Set(matching(/\.css$/, /(?<=^\s*)--[a-z0-9-]+(?=:)/gm).map((one) => one.split(": ")[1]));
  const used = matching(/\.(tsx?|css)$/, /(?<=var\()--[a-z0-9-]+/g).map((one) => one.split(": ")[1] ?? "");
  const set = new Set(matching(/\.tsx$/, /(?<=")--[a-z0-9-]+(?=")/g).map((one) => one.split(": ")[1]));
  expect(used.filter((one) => !(one in properties) && !own.has(one) && !set.has(one))).toEqual([]);
  expect(properties["--rule-soft"]).toBe(colour.ruleSoft);
  expect(properties["--type-note"]).toBe(`${type.note}px`);
});

it("draws charts that lean on no screen's style", () => {
  const classes = matching(/charts.[A-Z]\w+\.tsx$/, /(?<=className=")[^"]+/g).map((one) => one.split(": ")[1]);
  const styled = readFileSync("src/charts/charts.css", "utf8") + readFileSync("src/theme/base.css", "utf8");
  expect(classes.filter((one) => !styled.includes(`.${one}`))).toEqual([]);
});
