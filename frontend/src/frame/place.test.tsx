import { renderToStaticMarkup } from "react-dom/server";
import { MemoryRouter } from "react-router";
import { expect, it } from "vitest";
import type { Me } from "../api/client";
import { usePlace } from "./place";

const squad = {
  slug: "tarnholm-handball",
  name: "Tarnholm Handball",
  time_zone: "Europe/Oslo",
  today: "2026-03-12",
  first_day: "2024-08-05",
  last_day: "2026-04-25",
  may: ["read_squad" as const],
};
const me: Me = {
  signed_in: true,
  user_id: 1,
  club_admin: false,
  begun: true,
  now: "2026-03-12T07:10:00Z",
  name: "M. Ostrel",
  csrf_token: "",
  demo: true,
  squads: [squad],
};

function placeAt(address: string, who: Me = me) {
  let found: ReturnType<typeof usePlace> | undefined;
  const Look = () => {
    found = usePlace(who);
    return null;
  };
  renderToStaticMarkup(
    <MemoryRouter initialEntries={[address]}>
      <Look />
    </MemoryRouter>,
  );
  if (!found) throw new Error("nothing was rendered");
  return found;
}

it("is today in the first squad where the address says nothing", () => {
  const { place, wrong } = placeAt("/morning");
  expect(place?.day).toBe("2026-03-12");
  expect(place?.squad.slug).toBe("tarnholm-handball");
  expect(wrong).toBeNull();
});

it("is what the address says, and links keep squad and day", () => {
  const { place } = placeAt("/morning?squad=tarnholm-handball&day=2026-02-14&athlete=7");
  expect(place?.day).toBe("2026-02-14");
  expect(place?.get("athlete")).toBe("7");
  expect(place?.to("/session", { session: "X" })).toBe(
    "/session?squad=tarnholm-handball&day=2026-02-14&session=X",
  );
});

it("says what the address asked for in vain", () => {
  expect(placeAt("/morning?squad=other").wrong).toContain("does not exist");
  expect(placeAt("/morning?day=soon").wrong).toContain("“soon” is not a day");
});

it("knows what the role may, and that a person without a squad has no place", () => {
  expect(placeAt("/morning").place?.may("read_squad")).toBe(true);
  expect(placeAt("/morning").place?.may("make_calls")).toBe(false);
  expect(placeAt("/morning", { ...me, squads: [] }).place).toBeNull();
});
