import { describe, expect, it } from "vitest";
import { noSession } from "./fileWords";

describe("what a file needs that is not there", () => {
  it("is named while it is little, and told by where it begins and ends when it is much", () => {
    expect(noSession(["Sun 8 March"])).toBe("There is no session for Sun 8 March: make one from the file");
    expect(noSession(["a", "b", "c"])).toBe("There is no session for a, b, c: make them from the file");
    expect(noSession(["a", "b", "c", "d", "e"])).toBe(
      "There is no session for 5 times, from a to e: make them from the file",
    );
  });
});
