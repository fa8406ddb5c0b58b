// @vitest-environment jsdom

import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act } from "react";
import { beforeEach, expect, it, vi } from "vitest";
import { Problem } from "../api/client";
import { box, show, text } from "../testing";
import { system } from "../theme/system";
import { AreaField, ChoiceField, Form, TextField, useSending } from "./form";

interface Typed {
  name: string;
  kind: string;
  why: string;
}

const send = vi.fn<(typed: Typed, seen: number | string | null) => Promise<string>>();
const saved = vi.fn();
const left = vi.fn();

function Example() {
  const of = useSending<Typed, string>({
    start: { name: "", kind: "b", why: "" },
    check: ({ name }) => ({ name: name ? null : "Say a name." }),
    send,
    seen: 3,
    stands: (saved) => (saved === "again" ? 7 : null),
    saved,
    renews: ["squad"],
  });
  return (
    <Form of={of} head="New" action="Save" onLeave={left}>
      <TextField of={of} name="name" label="Name" />
      <ChoiceField
        of={of}
        name="kind"
        label="Kind"
        options={[
          ["a", "one"],
          ["b", "other"],
        ]}
      />
      <AreaField of={of} name="why" also={["reason"]} label="Why" />
    </Form>
  );
}

const find = <Found extends Element>(selector: string) => box.querySelector<Found>(selector) as Found;

async function type(name: string, value: string) {
  const field = find<HTMLInputElement>(`[name=${name}]`);
  const set = Object.getOwnPropertyDescriptor(Object.getPrototypeOf(field), "value")?.set;
  await act(async () => {
    set?.call(field, value);
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
}

const press = () =>
  act(async () => {
    find<HTMLFormElement>("form").dispatchEvent(new Event("submit", { bubbles: true, cancelable: true }));
  });

beforeEach(async () => {
  vi.stubGlobal("matchMedia", () => ({ matches: false, addListener() {}, removeListener() {} }));
  vi.clearAllMocks();
  send.mockResolvedValue("kept");
  await show(
    <QueryClientProvider client={new QueryClient()}>
      <ChakraProvider value={system}>
        <Example />
      </ChakraProvider>
    </QueryClientProvider>,
  );
});

it("says what is wrong once it was tried, goes there, and sends nothing", async () => {
  expect(text()).not.toContain("Say a name.");
  await press();
  expect(text()).toContain("Say a name.");
  expect(document.activeElement).toBe(find("[name=name]"));
  expect(send).not.toHaveBeenCalled();
  await type("name", "Elk");
  expect(text()).not.toContain("Say a name.");
});

it("sends what is typed and chosen, once", async () => {
  await type("name", "Elk");
  await type("why", "new");
  await press();
  expect(send.mock.calls[0]?.[0]).toEqual({ name: "Elk", kind: "b", why: "new" });
  expect(saved).toHaveBeenCalledWith("kept", { name: "Elk", kind: "b", why: "new" });
});

it("says what the server refuses at its field, under any of its names, and keeps what is typed", async () => {
  send.mockRejectedValue(new Problem(422, "no", { errors: [{ field: "reason", detail: "Say why." }] }));
  await type("name", "Elk");
  await press();
  expect(text()).toContain("Say why.");
  expect(find("[role=alert]")).toBeNull();
  expect(find<HTMLInputElement>("[name=name]").value).toBe("Elk");
  expect(saved).not.toHaveBeenCalled();
});

it("says what is of no field by the button", async () => {
  send.mockRejectedValue(new Problem(0, "The server does not answer."));
  await type("name", "Elk");
  await press();
  expect(find("[role=alert]").textContent).toBe("The server does not answer.");
});

it("replaces somebody else's only once it was shown", async () => {
  const theirs = new Problem(409, "S. Taff has set it meanwhile.", { theirs: { version: 5 } });
  send.mockRejectedValueOnce(theirs).mockRejectedValueOnce(new Problem(409, "No name.", {}));
  await type("name", "Elk");
  for (const _ of [1, 2, 3]) await press();
  expect(send.mock.calls.map(([, seen]) => seen)).toEqual([3, 5, 5]);
  expect(saved).toHaveBeenCalledTimes(1);
});

it("goes on from what it has saved itself", async () => {
  send.mockResolvedValueOnce("again");
  await type("name", "Elk");
  for (const _ of [1, 2]) await press();
  expect(send.mock.calls.map(([, seen]) => seen)).toEqual([3, 7]);
});

it("is left without sending", async () => {
  await act(async () => find<HTMLButtonElement>("button.text-button").click());
  expect(left).toHaveBeenCalled();
  expect(send).not.toHaveBeenCalled();
});
