// @vitest-environment jsdom

import { act, type ReactNode } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { type KeyMap, useKeys } from "./keys";

let root: Root;
let box: HTMLElement;

beforeEach(() => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  box = document.body.appendChild(document.createElement("div"));
  root = createRoot(box);
});

afterEach(() => {
  act(() => root.unmount());
  box.remove();
});

function show(map: KeyMap, children?: ReactNode) {
  const Screen = () => {
    useKeys(map);
    return children;
  };
  act(() => root.render(<Screen />));
}

function press(key: string, on: EventTarget = document.body, more: KeyboardEventInit = {}) {
  on.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more }));
}

it("answers single keys and two in a row", () => {
  const next = vi.fn();
  const go = vi.fn();
  show({ j: next, "g m": go });
  press("j");
  press("g");
  press("m");
  press("m");
  expect(next).toHaveBeenCalledTimes(1);
  expect(go).toHaveBeenCalledTimes(1);
});

it("takes a letter that a keyboard writes with AltGr for that letter", () => {
  const back = vi.fn();
  show({ "[": back });
  press("[", document.body, { modifierAltGraph: true, altKey: true, ctrlKey: true });
  expect(back).toHaveBeenCalledTimes(1);
  press("[", document.body, { altKey: true, ctrlKey: true });
  expect(back).toHaveBeenCalledTimes(1);
});

it("rests while something is typed, in a dialog, and with a control key held", () => {
  const next = vi.fn();
  show(
    { j: next },
    <>
      <input />
      <div role="dialog">
        <button type="button">x</button>
      </div>
    </>,
  );
  for (const selector of ["input", "button"]) {
    const element = box.querySelector(selector);
    if (element) press("j", element);
  }
  press("j", document.body, { ctrlKey: true });
  expect(next).not.toHaveBeenCalled();
});
