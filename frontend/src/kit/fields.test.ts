import { expect, it } from "vitest";
import { typedNumber } from "./fields";

it.each([
  ["7", 7],
  [" 7,5 ", 7.5],
  ["7.5", 7.5],
  ["−3", -3],
  ["-3", -3],
  ["0", 0],
])("reads %j as a number", (text, value) => expect(typedNumber(text)).toBe(value));

it.each(["", "  ", "seven", "7 5", "1,2,3", "7h"])("takes %j for no number", (text) =>
  expect(typedNumber(text)).toBeNaN(),
);
