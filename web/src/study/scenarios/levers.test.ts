import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { moved, valuesOf } from "./levers";

interface Case {
  name: string;
  key: string;
  before: unknown;
  factor: unknown;
  after?: unknown;
}

const CASES = JSON.parse(readFileSync(`${import.meta.dirname}/../../../../tests/shared/levers.json`, "utf8")) as Case[];

it.each(CASES)("scales: $name", ({ key, before, factor, after }) => {
  expect(moved({ id: "x", name: "X", sets: ["/x"], scales: true }, key, before, factor)).toEqual(after);
});

it.each([
  [{ values: [3, 5] }, [3, 5]],
  [{ low: 2, high: 5, step: 1 }, [2, 3, 4, 5]],
  [{ low: 0.8, high: 1.2, step: 0.1 }, [0.8, 0.9, 1, 1.1, 1.2]],
  [{ low: "2 min", high: "3 min", step: "30 s" }, ["2 min", "2.5 min", "3 min"]],
  [{}, []],
])("has values: %j", (range, values) => {
  expect(valuesOf({ id: "x", name: "X", sets: ["/x"], ...range })).toEqual(values);
});
