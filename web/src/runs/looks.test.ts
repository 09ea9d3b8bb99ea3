import { expect, it } from "vitest";
import type { Run, RunPart } from "../api/queries";
import { lookAt, lookedAt } from "./looks";

const part = (done: number, replications: number) => ({ done, replications }) as RunPart;
const run = (state: Run["state"]) => ({ state }) as Run;

it("looks at a run at so few moments that a thousand replications are seen some thirty times", () => {
  const seen = Array.from({ length: 1000 }, (_, n) => lookedAt(run("running"), part(n + 1, 1000)).done);
  expect(new Set(seen).size).toBeLessThan(32);
  expect(seen.slice(0, 12)).toEqual([1, 1, 2, 3, 3, 5, 6, 7, 7, 10, 10, 10]);
  expect(seen.every((done, n) => done >= 1 && done <= n + 1 && done >= (n + 1) / 2)).toBe(true);
  expect(seen.at(-1)).toBe(1000);
});

it("sees a run that is over, or a scenario that is done, as it is", () => {
  expect(lookedAt(run("stopped"), part(7, 1000)).done).toBe(7);
  expect(lookedAt(run("running"), part(777, 777)).done).toBe(777);
  expect(lookAt(0)).toBe(0);
});
