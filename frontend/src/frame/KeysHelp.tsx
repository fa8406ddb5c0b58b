import { Dialog, Portal } from "@chakra-ui/react";
import { Fragment, useEffect } from "react";
import { useLocation } from "react-router";
import { SCREENS } from "./screens";

const EVERYWHERE: [string, string][] = [
  ["/", "find an athlete, a screen, a squad or a day"],
  ["[  ]", "a day back, a day forward"],
  [
    SCREENS.map((screen) => `g ${screen.key}`).join("  "),
    `go to ${SCREENS.map((screen) => screen.name).join(", ")}`,
  ],
  ["?", "this list"],
];

const ON: Record<string, [string, string][]> = {
  "/morning": [
    ["j  k", "next athlete, the one before"],
    ["Enter", "open the evidence"],
    ["1 – 6", "choose the call: full, adapt, minimum dose, recover, rest, refer"],
    ["x", "mark, to call several together"],
    ["Esc", "clear the marks, or close the evidence"],
  ],
  "/athlete": [
    ["←  →", "a day back, a day forward, once the picture has the focus; with Shift a week"],
    ["Enter", "open the morning of that day"],
  ],
  "/week": [
    ["Alt ←  Alt →", "move the session that has the focus a day"],
    ["Enter", "take the minutes that are typed"],
    ["t", "plan recovery and top-ups after a match"],
  ],
  "/session": [
    ["Enter", "keep, and go down"],
    ["Tab", "keep, and go right"],
    ["arrows", "move between cells"],
    ["Ctrl V", "paste cells from a spreadsheet"],
    ["Ctrl Z", "undo the last entry"],
    ["Esc", "put back what stood in the cell"],
  ],
};

export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  const { pathname } = useLocation();
  const keys = [...(ON[pathname] ?? []), ...EVERYWHERE];
  // The component listens a frame after it is drawn; whoever presses Esc at once is heard all the same.
  useEffect(() => {
    if (!open) return;
    const listen = (event: KeyboardEvent) => {
      if (event.key !== "Escape") return;
      event.preventDefault();
      onClose();
    };
    window.addEventListener("keydown", listen, true);
    return () => window.removeEventListener("keydown", listen, true);
  }, [open, onClose]);
  return (
    <Dialog.Root open={open} onOpenChange={(to) => !to.open && onClose()} motionPreset="none" size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <Dialog.Header>
              <Dialog.Title>Keys on this screen</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body pb="5">
              <dl className="keys-list">
                {keys.map(([key, what]) => (
                  <Fragment key={key}>
                    <dt>
                      <kbd>{key}</kbd>
                    </dt>
                    <dd>{what}</dd>
                  </Fragment>
                ))}
              </dl>
            </Dialog.Body>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  );
}
