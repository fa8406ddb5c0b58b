// @vitest-environment jsdom

import { act } from "react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import type { Live } from "../../api/client";
import type { Place } from "../../frame/place";
import { box, show as draw, press } from "../../testing";
import { OwnStrap } from "./OwnStrap";
import { beats } from "./strap";

const { sent, answer } = vi.hoisted(() => ({
  sent: [] as { number: number; t: number[]; value: number[]; athlete_id: number }[],
  answer: { fails: false },
}));
vi.mock("../../api/client", () => ({
  api: { POST: (_path: string, { body }: { body: (typeof sent)[number] }) => body },
  ask: async (body: (typeof sent)[number]) => {
    if (answer.fails) throw new TypeError("no network");
    sent.push(body);
  },
  Problem: class extends Error {},
}));

let measured: EventTarget & { value?: DataView; startNotifications?: () => Promise<unknown> };
let device: EventTarget & { name?: string; gatt?: object };
const disconnect = vi.fn();

const bytes = (...values: number[]) => new DataView(new Uint8Array(values).buffer);

beforeEach(() => {
  vi.useFakeTimers();
  sent.length = 0;
  answer.fails = false;
  measured = Object.assign(new EventTarget(), { startNotifications: async () => {} });
  device = Object.assign(new EventTarget(), {
    name: "Chest 7",
    gatt: {
      connect: async () => ({
        disconnect,
        getPrimaryService: async () => ({ getCharacteristic: async () => measured }),
      }),
    },
  });
  Object.assign(navigator, { bluetooth: { requestDevice: async () => device } });
});

afterEach(() => {
  vi.useRealTimers();
  Reflect.deleteProperty(navigator, "bluetooth");
});

const place = { squad: { slug: "x" } } as unknown as Place;
const live = { session: { id: "s" }, lanes: [{ athlete_id: 7, name: "A. Orrin" }] } as unknown as Live;
const show = () => draw(<OwnStrap place={place} live={live} />);
const tell = (...values: number[]) =>
  act(async () => {
    measured.value = bytes(...values);
    measured.dispatchEvent(new Event("characteristicvaluechanged"));
  });
const wait = (ms: number) => act(async () => void (await vi.advanceTimersByTimeAsync(ms)));
const read = async () => {
  await show();
  await act(async () => {
    const select = box.querySelector("select") as HTMLSelectElement;
    Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value")?.set?.call(select, "7");
    select.dispatchEvent(new Event("change", { bubbles: true }));
  });
  await press("Read a strap");
};

it("reads beats of one byte and of two, and none without contact", () => {
  expect(beats(bytes(0b00000, 142))).toBe(142);
  expect(beats(bytes(0b10110, 142, 1, 2))).toBe(142);
  expect(beats(bytes(0b00001, 44, 1))).toBe(300);
  expect(beats(bytes(0b00100, 142))).toBeNull();
  expect(beats(bytes(0b00110, 0))).toBeNull();
});

it("sends each second what a strap has told, for whom it was put on", async () => {
  await read();
  expect(box.textContent).toContain("A. Orrin wears Chest 7: no contact");
  await tell(0, 120);
  await wait(400);
  await tell(0, 124);
  expect(box.textContent).toContain("124 a minute");
  await wait(1000);
  expect(sent).toHaveLength(1);
  expect(sent[0]).toMatchObject({ athlete_id: 7, value: [120, 124], t: [0, 0.4] });
  await wait(2000);
  expect(sent).toHaveLength(1);
  await press("Stop reading");
  expect(disconnect).toHaveBeenCalled();
});

it("keeps what it could not send, under one number, and goes on", async () => {
  await read();
  answer.fails = true;
  await tell(0, 120);
  await wait(1000);
  await tell(0, 130);
  await wait(1000);
  expect(box.textContent).toContain("No network");
  answer.fails = false;
  await wait(2000);
  expect(sent.map((one) => one.value)).toEqual([[120], [130]]);
  expect(new Set(sent.map((one) => one.number)).size).toBe(2);
  expect(box.textContent).not.toContain("No network");
});

it("says when a strap is gone, and offers nothing where the browser cannot read any", async () => {
  await read();
  await act(async () => void device.dispatchEvent(new Event("gattserverdisconnected")));
  expect(box.textContent).toContain("out of reach");
  expect(box.textContent).toContain("Read a strap");
  Reflect.deleteProperty(navigator, "bluetooth");
  await show();
  expect(box.textContent).toBe("");
});

it("says nothing where none was chosen", async () => {
  Object.assign(navigator, {
    bluetooth: { requestDevice: () => Promise.reject(new DOMException("none", "NotFoundError")) },
  });
  await read();
  expect(box.querySelector("[role=status]")).toBeNull();
});
