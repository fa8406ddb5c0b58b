// @vitest-environment jsdom

import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, type ReactNode } from "react";
import { afterEach, expect, it, vi } from "vitest";
import { box, show as draw } from "../testing";
import { system } from "../theme/system";
import { Guard, screen } from "./screen";

const queries = new QueryClient();

afterEach(() => {
  vi.restoreAllMocks();
});

const show = (children: ReactNode) =>
  draw(
    <QueryClientProvider client={queries}>
      <ChakraProvider value={system}>{children}</ChakraProvider>
    </QueryClientProvider>,
  );
const Desk = ({ day }: { day: string }) => <p>The desk of {day}</p>;

it("is the skeleton until its code has come, and is loaded once", async () => {
  let come: (module: { default: typeof Desk }) => void = () => {};
  const load = vi.fn(() => new Promise<{ default: typeof Desk }>((done) => (come = done)));
  const Screen = screen(load);
  await show(<Screen day="Monday" />);
  expect(box.querySelector("[role=status]")).not.toBeNull();
  await act(async () => come({ default: Desk }));
  expect(box.textContent).toBe("The desk of Monday");
  await show(<p>elsewhere</p>);
  await show(<Screen day="Tuesday" />);
  expect(box.textContent).toBe("The desk of Tuesday");
  expect(load).toHaveBeenCalledTimes(1);
});

it("says when its code does not come, and what to do", async () => {
  const Screen = screen<{ day: string }>(() => Promise.reject(new Error("404")));
  await show(<Screen day="Monday" />);
  expect(box.querySelector("h2")?.textContent).toBe("This screen could not be loaded");
  expect(box.querySelector("button")?.textContent).toBe("Load the page again");
});

/** A screen that breaks as long as it is told to. */
let broken = true;
const Fragile = () => {
  if (broken) throw new Error("no such week");
  return <p>All is well</p>;
};

it("leaves the frame standing when a screen breaks, says so, and tries again when asked", async () => {
  vi.spyOn(console, "error").mockImplementation(() => {});
  broken = true;
  await show(
    <>
      <nav>frame</nav>
      <Guard keys={["/morning"]}>
        <Fragile />
      </Guard>
    </>,
  );
  expect(box.querySelector("nav")).not.toBeNull();
  expect(box.querySelector("[role=alert]")?.textContent).toContain("no such week");
  queries.setQueryData(["me"], "somebody");
  queries.setQueryData(["a squad", "morning"], "nonsense");
  broken = false;
  await act(async () => box.querySelector("button")?.click());
  expect(box.textContent).toContain("All is well");
  expect(queries.getQueryData(["a squad", "morning"])).toBeUndefined();
  expect(queries.getQueryData(["me"])).toBe("somebody");
});

it("tries again by itself on another screen or day, and not on the same one", async () => {
  vi.spyOn(console, "error").mockImplementation(() => {});
  const at = (place: string) => (
    <Guard keys={[place]}>
      <Fragile />
    </Guard>
  );
  broken = true;
  await show(at("/morning"));
  broken = false;
  await show(at("/morning"));
  expect(box.textContent).toContain("has broken");
  await show(at("/session"));
  expect(box.textContent).toBe("All is well");
});
