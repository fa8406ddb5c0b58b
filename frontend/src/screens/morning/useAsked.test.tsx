// @vitest-environment jsdom

import { act, useState } from "react";
import { createRoot, type Root } from "react-dom/client";
import { BrowserRouter, useNavigate, useSearchParams } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { REST, useAsked } from "./useAsked";

let root: Root;
let box: HTMLElement;
let desk: { asked: string | null; ask: (to: string | null) => void; there: string | null };
let go: ReturnType<typeof useNavigate>;

function Desk() {
  const [search, setSearch] = useSearchParams();
  const there = search.get("athlete");
  const set = (changes: Record<string, string | null>) =>
    setSearch(changes.athlete ? { athlete: changes.athlete } : {}, { replace: true });
  go = useNavigate();
  desk = { ...useAsked({ get: (name) => search.get(name), set }), there };
  return null;
}

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal("IS_REACT_ACT_ENVIRONMENT", true);
  window.history.replaceState(null, "", "/morning?athlete=1");
  box = document.body.appendChild(document.createElement("div"));
  root = createRoot(box);
  act(() =>
    root.render(
      <BrowserRouter useTransitions={false}>
        <Desk />
      </BrowserRouter>,
    ),
  );
});

afterEach(() => {
  act(() => root.unmount());
  box.remove();
  vi.useRealTimers();
});

const ask = (to: string | null) => act(() => desk.ask(to));
const pass = (milliseconds: number) => act(() => vi.advanceTimersByTime(milliseconds));

it("is who the address says until somebody is asked for", () => {
  expect(desk.asked).toBe("1");
});

it("answers at once, and the address follows after a moment of rest", () => {
  ask("2");
  expect(desk.asked).toBe("2");
  expect(desk.there).toBe("1");
  pass(REST - 1);
  expect(desk.there).toBe("1");
  pass(1);
  expect(desk.there).toBe("2");
  expect(window.location.search).toBe("?athlete=2");
  expect(desk.asked).toBe("2");
});

it("changes the address once for many moves in a row", () => {
  const before = vi.spyOn(window.history, "replaceState");
  for (const to of ["2", "3", "4", "5"]) {
    ask(to);
    pass(REST / 2);
    expect(desk.asked).toBe(to);
  }
  pass(REST);
  expect(desk.there).toBe("5");
  expect(before).toHaveBeenCalledTimes(1);
});

it("loses no move that is made while the address is following another", () => {
  ask("2");
  act(() => {
    // The address is about to say 2, and nothing on screen says so yet.
    vi.advanceTimersByTime(REST);
    desk.ask("3");
  });
  expect(desk.asked).toBe("3");
  pass(REST);
  expect(desk.asked).toBe("3");
  expect(desk.there).toBe("3");
});

it("loses no move that is made the moment the address has followed another", () => {
  for (const to of ["2", "3", "4", "5"]) {
    ask(to);
    pass(REST);
    expect(desk.there).toBe(to);
  }
  ask("1");
  expect(desk.asked).toBe("1");
  pass(REST);
  expect(desk.there).toBe("1");
});

it("stays closed when it was closed by the address after a move from nobody", () => {
  act(() => go("/morning"));
  ask("3");
  pass(REST);
  expect(desk.asked).toBe("3");
  act(() => go("/morning"));
  expect(desk.asked).toBeNull();
  pass(REST * 2);
  expect(desk.asked).toBeNull();
});

it("gives way to a link that comes before the address has followed", () => {
  ask("2");
  act(() => go("/morning?athlete=9"));
  expect(desk.asked).toBe("9");
  pass(REST * 2);
  expect(desk.there).toBe("9");
});

it("lets go of everybody", () => {
  ask(null);
  expect(desk.asked).toBeNull();
  pass(REST);
  expect(window.location.search).toBe("");
});

const nowhere = () => {};

/** A desk whose address moves when it is told to, and not before. */
function Slow({
  on,
}: {
  on: (found: { asked: string | null; ask: (to: string) => void; arrive: (at: string) => void }) => void;
}) {
  const [there, arrive] = useState("1");
  on({ ...useAsked({ get: () => there, set: nowhere }), arrive });
  return null;
}

it("is not led back by an address of its own that comes late", () => {
  let slow = { asked: null as string | null, ask: (_: string) => {}, arrive: (_: string) => {} };
  act(() =>
    root.render(
      <Slow
        on={(found) => {
          slow = found;
        }}
      />,
    ),
  );
  act(() => slow.ask("2"));
  pass(REST);
  act(() => slow.ask("3"));
  pass(REST);
  act(() => slow.arrive("2"));
  expect(slow.asked).toBe("3");
  act(() => slow.arrive("3"));
  expect(slow.asked).toBe("3");
  // Now it is somebody going back.
  act(() => slow.arrive("2"));
  expect(slow.asked).toBe("2");
});
