// @vitest-environment jsdom

import type { ReactNode } from "react";
import { expect, it, vi } from "vitest";
import { box, show as draw } from "../testing";
import { type KeyMap, useKeys } from "./keys";

async function show(map: KeyMap, children?: ReactNode) {
  const Screen = () => {
    useKeys(map);
    return children;
  };
  await draw(<Screen />);
}

function press(key: string, on: EventTarget = document.body, more: KeyboardEventInit = {}) {
  on.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more }));
}

it("answers single keys and two in a row", async () => {
  const next = vi.fn();
  const go = vi.fn();
  await show({ j: next, "g m": go });
  press("j");
  press("g");
  press("m");
  press("m");
  expect(next).toHaveBeenCalledTimes(1);
  expect(go).toHaveBeenCalledTimes(1);
});

it("takes a letter that a keyboard writes with AltGr for that letter", async () => {
  const back = vi.fn();
  await show({ "[": back });
  press("[", document.body, { modifierAltGraph: true, altKey: true, ctrlKey: true });
  expect(back).toHaveBeenCalledTimes(1);
  press("[", document.body, { altKey: true, ctrlKey: true });
  expect(back).toHaveBeenCalledTimes(1);
});

it("rests while something is typed, in a dialog, and with a control key held", async () => {
  const next = vi.fn();
  await show(
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
