import { Dialog, Input, Portal } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useMemo, useRef, useState } from "react";
import type { Me } from "../api/client";
import { peopleQuery } from "../api/queries/frame";
import { isDay, longDay } from "./days";
import type { Place } from "./place";
import { SCREENS } from "./screens";

interface Found {
  id: string;
  name: string;
  what: string;
  go: () => void;
}

interface FindProps {
  open: boolean;
  onClose: () => void;
  place: Place;
  me: Me;
}

/**
 * Find an athlete, a screen, a squad or a day by typing a few letters of it.
 *
 * The list is ours, and not the component library's: that one opens above what it stands in, and here the list is what
 * the dialog is for.
 */
export function Find({ open, onClose, place, me }: FindProps) {
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const input = useRef<HTMLInputElement>(null);
  // Names are there before the box opens: whoever types fast finds them with the next key.
  const people = useQuery({
    ...peopleQuery(place.squad.slug, place.day),
    enabled: open || place.may("read_squad"),
  });

  const found = useMemo<Found[]>(() => {
    const all: Found[] = [
      ...(people.data?.athletes ?? []).map((athlete) => ({
        id: `a${athlete.athlete_id}`,
        name: athlete.name,
        what: athlete.position,
        go: () => place.go("/morning", { athlete: String(athlete.athlete_id) }),
      })),
      ...SCREENS.map((screen) => ({
        id: screen.path,
        name: screen.name,
        what: `screen, g ${screen.key}`,
        go: () => place.go(screen.path),
      })),
      ...me.squads.map((squad) => ({
        id: squad.slug,
        name: squad.name,
        what: "squad",
        go: () => place.go("/morning", { squad: squad.slug, day: null }),
      })),
      { id: "today", name: "Today", what: "day", go: () => place.set({ day: place.squad.today }) },
    ];
    const wanted = text.trim().toLowerCase();
    if (isDay(wanted))
      return [{ id: wanted, name: longDay(wanted), what: "day", go: () => place.set({ day: wanted }) }];
    return all.filter((one) => one.name.toLowerCase().includes(wanted));
  }, [people.data, me.squads, place, text]);

  const take = (one: Found | undefined) => {
    if (!one) return;
    close();
    one.go();
  };
  const close = () => {
    setText("");
    setAt(0);
    onClose();
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown") setAt(Math.min(at + 1, found.length - 1));
    else if (event.key === "ArrowUp") setAt(Math.max(at - 1, 0));
    else if (event.key === "Enter") take(found[at]);
    else return;
    event.preventDefault();
  };

  return (
    <Dialog.Root
      open={open}
      onOpenChange={(to) => !to.open && close()}
      initialFocusEl={() => input.current}
      motionPreset="none"
      size="sm"
    >
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content aria-label="Find">
            <Dialog.Body pt="4">
              <Input
                ref={input}
                role="combobox"
                aria-expanded="true"
                aria-controls="found"
                aria-activedescendant={found[at] ? `found-${found[at].id}` : undefined}
                aria-label="Find an athlete, a screen, a squad or a day"
                placeholder="Athlete, screen, squad, or a day as 2026-02-14"
                value={text}
                onChange={(event) => {
                  setText(event.target.value);
                  setAt(0);
                }}
                onKeyDown={onKey}
              />
              {/* biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: the list of a combobox */}
              <ul className="find-list" id="found" role="listbox" aria-label="Found">
                {found.map((one, i) => (
                  // biome-ignore lint/a11y/useKeyWithClickEvents: keys are taken by the combobox above
                  // biome-ignore lint/a11y/useFocusableInteractive: the combobox keeps the focus
                  <li
                    key={one.id}
                    id={`found-${one.id}`}
                    // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: an option of the list
                    role="option"
                    aria-selected={i === at}
                    onClick={() => take(one)}
                  >
                    <span>{one.name}</span>
                    <span className="quiet">{one.what}</span>
                  </li>
                ))}
              </ul>
              {found.length === 0 && <p className="quiet">Nothing by that name in {place.squad.name}.</p>}
            </Dialog.Body>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
