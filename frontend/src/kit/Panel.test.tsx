import { renderToStaticMarkup } from "react-dom/server";
import { expect, test } from "vitest";
import { Beside } from "./Panel";

const drawn = (open?: boolean) =>
  renderToStaticMarkup(
    <Beside label="Unit of work" panel={<p>panel</p>} open={open}>
      <p>list</p>
    </Beside>,
  );

test("the list stands first, and the panel is named", () => {
  expect(drawn()).toMatch(/desk-main"><p>list.*<aside class="desk-side" aria-label="Unit of work"><p>panel/);
});

test("a panel with nothing picked can be put away", () => {
  expect(drawn(false)).toContain('class="desk-side closed"');
  expect(drawn(true)).not.toContain("closed");
});
