import { expect, it } from "vitest";
import { curveOf, disorder, inShort, meanOf, reshaped, type ShapeName } from "./distributions";
import type { Shape } from "../document/types";

const SHAPES: Shape[] = [
  { dist: "uniform", low: "1 min", high: "3 min" },
  { dist: "triangular", low: "1 min", mode: "2 min", high: "6 min" },
  { dist: "exponential", mean: "2 min" },
  { dist: "erlang", mean: "2 min", k: 4 },
  { dist: "normal", mean: "8 min", sd: "1 min" },
  { dist: "lognormal", mean: "2 min", sd: "1 min" },
];

it.each(SHAPES)("the curve of $dist has its mean where the numbers say", (shape) => {
  const curve = curveOf(shape);
  const total = curve?.points.reduce((sum, point) => sum + point.y, 0) ?? 0;
  const mean = (curve?.points.reduce((sum, point) => sum + point.x * point.y, 0) ?? 0) / total;
  expect(mean / meanOf(shape)).toBeCloseTo(1, 1);
});

it("shows the middle 90 % of a uniform distribution", () => {
  const curve = curveOf({ dist: "uniform", low: "0 min", high: "100 min" });
  expect(curve?.low).toBeCloseTo(5, 0);
  expect(curve?.high).toBeCloseTo(95, 0);
});

it.each(["constant", "uniform", "triangular", "exponential", "erlang", "normal", "lognormal"] as ShapeName[])(
  "keeps the mean and the unit when it becomes %s",
  (shape) => {
    const changed = reshaped({ dist: "exponential", mean: "90 s" }, shape);
    expect(meanOf(changed)).toBeCloseTo(1.5, 1);
    expect(JSON.stringify(changed)).toContain(" s");
  },
);

it("sees what is out of order", () => {
  expect(disorder({ dist: "triangular", low: "5 min", mode: "2 min", high: "9 min" })).toMatch(/least is above/);
  expect(disorder({ dist: "triangular", low: "1 min", mode: "20 min", high: "9 min" })).toMatch(/most likely is above/);
  expect(disorder({ dist: "uniform", low: "1 h", high: "59 min" })).toMatch(/least is above/);
  expect(disorder({ dist: "exponential", mean: "3 min" })).toBeNull();
  expect(curveOf({ dist: "uniform", low: "1 h", high: "59 min" })).toBeNull();
});

it("says a time in short for under a stop", () => {
  expect(inShort("45 s")).toBe("45 s");
  expect(inShort({ dist: "triangular", low: "3 min", mode: "5 min", high: "9 min" })).toBe("3–9 min");
  expect(inShort({ dist: "uniform", low: "90 s", high: "5 min" })).toBe("90 s–5 min");
  const parted = { by_type: { a: "2 min", b: "5 min" }, otherwise: { dist: "exponential" as const, mean: "8 min" } };
  expect(inShort(parted)).toBe("about 2–8 min");
  expect(inShort(parted, ["a", "b"])).toBe("about 2–5 min");
  expect(inShort(parted, ["a", "c"])).toBe("about 2–8 min");
});
