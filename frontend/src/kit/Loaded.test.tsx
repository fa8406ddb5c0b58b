// @vitest-environment jsdom
import { ChakraProvider } from "@chakra-ui/react";
import { act } from "react";
import { createRoot } from "react-dom/client";
import { beforeEach, expect, test, vi } from "vitest";
import { system } from "../theme/system";
import { Loaded } from "./Loaded";

beforeEach(() => void vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true));

const refetch = vi.fn();

async function shown(data: string[] | undefined, error: Error | null = null) {
  const box = document.createElement("div");
  const query = { data, error, isError: error !== null, refetch };
  await act(async () =>
    createRoot(box).render(
      <ChakraProvider value={system}>
        <Loaded query={query} failed="The people could not be loaded" waiting={<i>soon</i>}>
          {(people) => <b>{people.length} people</b>}
        </Loaded>
      </ChakraProvider>,
    ),
  );
  return box;
}

test("something stands there while it comes", async () => {
  expect((await shown(undefined)).textContent).toBe("soon");
});

test("nobody is an answer too", async () => {
  expect((await shown([])).textContent).toBe("0 people");
});

test("what could not be loaded is said with why, and can be asked for again", async () => {
  const box = await shown(["kept from before"], new Error("No network."));
  expect(box.textContent).toContain("The people could not be loaded");
  expect(box.textContent).toContain("No network.");
  await act(async () => box.querySelector("button")?.click());
  expect(refetch).toHaveBeenCalledOnce();
});
