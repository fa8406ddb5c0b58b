/** What the screens' tests share: a root that each test has to itself, and what is found, pressed and typed in it. */

import { act, type ReactNode } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach } from "vitest";

/** Where the test's own root is drawn. */
export let box: HTMLElement;
let root: Root;

// Not a stub: a test that puts back what it stubbed leaves it.
Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });

beforeEach(() => {
  box = document.body.appendChild(document.createElement("div"));
  root = createRoot(box);
});

afterEach(async () => {
  await act(async () => root.unmount());
  box.remove();
});

export const show = (children: ReactNode) => act(async () => root.render(children));

/** All that is read. */
export const text = () => box.textContent ?? "";

/** The first button, or the nth, whose label or words have ``name`` in them. */
export const button = (name: string, nth = 0) =>
  [...box.querySelectorAll("button")].filter((one) =>
    (one.getAttribute("aria-label") ?? one.textContent ?? "").includes(name),
  )[nth] as HTMLButtonElement;

export const press = (name: string, nth = 0) => act(async () => button(name, nth)?.click());

/** Put a value into a field, as a person would. */
export async function put(field: HTMLInputElement | HTMLSelectElement | HTMLTextAreaElement, value: string) {
  const write = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), "value")?.set;
  const event = field instanceof HTMLSelectElement ? "change" : "input";
  await act(async () => {
    write?.call(field, value);
    field.dispatchEvent(new Event(event, { bubbles: true }));
  });
}

/** Put a value into the field of that label. */
export const putInto = (label: string, value: string) =>
  put(
    box.querySelector(`:is(input, select)[aria-label="${label}"]`) as HTMLInputElement | HTMLSelectElement,
    value,
  );

/** Send the form that is shown. */
export const submit = () =>
  act(async () => {
    box.querySelector("form")?.dispatchEvent(new Event("submit", { bubbles: true, cancelable: true }));
  });
