import { expect, it } from "vitest";
import type { Run, RunPart } from "../api/queries";
import { LOOKS, lookedAt } from "./looks";

const part = (done: number, replications: number) => ({ done, replications }) as RunPart;
const run = (state: Run["state"]) => ({ state }) as Run;

it.each([1, 7, 20, 50, 1000])("looks at a run of %i replications at so many moments, each of them one that was", (replications) => {
  const seen = Array.from({ length: replications }, (_, n) => lookedAt(run("running"), part(n + 1, replications)).done);
  expect(new Set(seen).size).toBeLessThanOrEqual(LOOKS + 2);
  expect(seen[0]).toBe(1);
  expect(seen.at(-1)).toBe(replications);
  expect(seen.every((done, n) => done >= 1 && done <= n + 1)).toBe(true);
});

it("sees a run that is over as it ended", () => {
  expect(lookedAt(run("stopped"), part(7, 1000)).done).toBe(7);
});
