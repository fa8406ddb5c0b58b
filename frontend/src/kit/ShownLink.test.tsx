// @vitest-environment jsdom

import { ChakraProvider, defaultSystem } from "@chakra-ui/react";
import { act } from "react";
import { createRoot } from "react-dom/client";
import { expect, it, vi } from "vitest";
import { ShownLink } from "./ShownLink";

vi.mock("../frame/toast", () => ({ useToast: () => () => {} }));

it("shows a link to be read, and copies all of it", async () => {
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  const copied = vi.fn(() => Promise.resolve());
  vi.stubGlobal("navigator", { ...navigator, clipboard: { writeText: copied } });
  const box = document.body.appendChild(document.createElement("div"));
  const root = createRoot(box);
  act(() =>
    root.render(
      <ChakraProvider value={defaultSystem}>
        <ShownLink link="http://127.0.0.1/api/calendars/abc.ics" />
      </ChakraProvider>,
    ),
  );
  expect(box.querySelector("input")?.value).toBe("http://127.0.0.1/api/calendars/abc.ics");
  await act(async () => box.querySelector("button")?.click());
  expect(copied).toHaveBeenCalledWith("http://127.0.0.1/api/calendars/abc.ics");
  act(() => root.unmount());
});
