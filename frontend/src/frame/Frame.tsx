import { NativeSelect } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useCallback, useState } from "react";
import { Link, NavLink } from "react-router";
import { askAgain } from "../api/askAgain";
import type { Me } from "../api/client";
import { useOutbox, useSending } from "../offline/outbox";
import { DaySpine } from "./DaySpine";
import { longDay, plusDays } from "./days";
import { Find } from "./Find";
import { KeysHelp } from "./KeysHelp";
import { useKeys } from "./keys";
import { Mark } from "./Mark";
import type { Place } from "./place";
import { SCREENS } from "./screens";
import { useSignOut } from "./signOut";
import { WaitingLine } from "./WaitingLine";

interface FrameProps {
  me: Me;
  place: Place | null;
  wrong?: string | null;
  children: ReactNode;
}

export function Frame({ me, place, wrong, children }: FrameProps) {
  const queries = useQueryClient();
  const [open, setOpen] = useState<"find" | "keys" | null>(null);
  const outbox = useOutbox();
  const signOut = useSignOut(outbox.length);
  const onSent = useCallback(() => void askAgain(queries), [queries]);
  useSending(me.user_id ?? 0, onSent);
  const screens = SCREENS.filter((screen) => screen.needs.some((action) => place?.may(action)));
  const step = (days: number) => place?.set({ day: plusDays(place.day, days) });
  useKeys({
    "/": () => place && setOpen("find"),
    "?": () => setOpen("keys"),
    "[": () => step(-1),
    "]": () => step(1),
    ...Object.fromEntries(screens.map((screen) => [`g ${screen.key}`, () => place?.go(screen.path)])),
  });
  return (
    <div className="frame">
      <header className="top">
        <Link
          className="mark"
          to={place ? place.to("/morning") : "/"}
          data-print={place ? `${place.squad.name}, ${longDay(place.day)}` : ""}
        >
          <Mark />
          Uvren
        </Link>
        {place && (
          <nav aria-label="The working day">
            <ul className="places" style={{ height: "100%" }}>
              {screens.map((screen) => (
                <li key={screen.path}>
                  <NavLink to={place.to(screen.path)}>{screen.name}</NavLink>
                </li>
              ))}
            </ul>
          </nav>
        )}
        <div className="top-end">
          {place && (
            <>
              <NativeSelect.Root size="xs" className="squad-choice">
                <NativeSelect.Field
                  aria-label="Squad"
                  value={place.squad.slug}
                  onChange={(event) =>
                    place.set({ squad: event.target.value, athlete: null, session: null, day: null })
                  }
                >
                  {me.squads.map((squad) => (
                    <option key={squad.slug} value={squad.slug}>
                      {squad.name}
                    </option>
                  ))}
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
              <button type="button" className="find-button" onClick={() => setOpen("find")}>
                <span>Find</span>
                <kbd>/</kbd>
              </button>
            </>
          )}
          <span className="person">
            <Link to="/account" className="own-name">
              {me.name}
            </Link>
            <button type="button" className="text-button" onClick={signOut}>
              Sign out
            </button>
          </span>
        </div>
      </header>
      {place?.may("read_squad") && <DaySpine place={place} />}
      <WaitingLine outbox={outbox} />
      <main className="screen">
        {wrong && place && (
          <p role="alert" style={{ margin: "10px var(--margin) 0" }}>
            {wrong} Shown instead: {place.squad.name}.
          </p>
        )}
        {children}
      </main>
      {place && <Find open={open === "find"} onClose={() => setOpen(null)} place={place} me={me} />}
      <KeysHelp open={open === "keys"} onClose={() => setOpen(null)} />
    </div>
  );
}
