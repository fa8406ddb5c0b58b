import { ChakraProvider, defaultSystem } from "@chakra-ui/react";
import { renderToStaticMarkup } from "react-dom/server";
import { describe, expect, it } from "vitest";
import { Table } from "./Table";

const shown = (rows: string[]) =>
  renderToStaticMarkup(
    <ChakraProvider value={defaultSystem}>
      <Table
        heads={["Name", { name: "Size", number: true }, { name: "Change", hidden: true }]}
        empty={{ title: "Nothing yet", said: "Drop a file." }}
        caption="Files"
      >
        {rows.map((row) => (
          <tr key={row}>
            <td>{row}</td>
          </tr>
        ))}
      </Table>
    </ChakraProvider>,
  );

describe("a table", () => {
  it("names its columns, also those that are only said", () => {
    const drawn = shown(["a", "b"]);
    expect(drawn).toContain('<th scope="col">Name</th>');
    expect(drawn).toContain('<th scope="col" class="number">Size</th>');
    expect(drawn).toContain('<span class="visually-hidden">Change</span>');
    expect(drawn).toContain('<caption class="quiet">Files</caption>');
    expect(drawn.match(/<tr/g)).toHaveLength(3);
  });

  it("says in its place that it has no row, and what to do", () => {
    const drawn = shown([]);
    expect(drawn).not.toContain("<table");
    expect(drawn).toContain("Nothing yet");
    expect(drawn).toContain("Drop a file.");
  });
});
