import { QueryClient, QueryObserver } from "@tanstack/react-query";
import { expect, test } from "vitest";
import { askAgain } from "./askAgain";

/** A query on screen whose answers are given by hand. */
function shown() {
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const answers: ((value: string) => void)[] = [];
  const observer = new QueryObserver(queries, {
    queryKey: ["files"],
    queryFn: () => new Promise<string>((done) => answers.push(done)),
  });
  observer.subscribe(() => {});
  return { queries, answers, seen: () => queries.getQueryData(["files"]) };
}

const soon = () => new Promise((done) => setTimeout(done));

test("the first answer, asked for before a change, does not stand for what is so after it", async () => {
  const { queries, answers, seen } = shown();
  const again = askAgain(queries, ["files"]);
  await soon();
  expect(answers).toHaveLength(2);
  answers[1]?.("with the new file");
  answers[0]?.("as it was");
  await again;
  expect(seen()).toBe("with the new file");
});

test("nor does a later one that is on its way", async () => {
  const { queries, answers, seen } = shown();
  answers[0]?.("first");
  await soon();
  void queries.invalidateQueries({ queryKey: ["files"] });
  await soon();
  const again = askAgain(queries, ["files"]);
  await soon();
  answers.at(-1)?.("third");
  answers[1]?.("second");
  await again;
  expect(seen()).toBe("third");
});

test("what is on no screen is asked for when it is shown", async () => {
  const queries = new QueryClient();
  queries.setQueryData(["morning"], "old");
  await askAgain(queries, ["morning"]);
  expect(queries.getQueryState(["morning"])?.isInvalidated).toBe(true);
});
