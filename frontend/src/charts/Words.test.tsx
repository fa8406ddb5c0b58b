import { renderToStaticMarkup } from "react-dom/server";
import { expect, it } from "vitest";
import { Words } from "./Words";

it("takes its size and weight as a style, which the reset of the page does not undo", () => {
  const drawn = renderToStaticMarkup(
    <Words size="small" strong x="3">
      now
    </Words>,
  );
  expect(drawn).toContain('style="font-size:12px;font-weight:700"');
  expect(drawn).not.toContain('font-size="');
});
