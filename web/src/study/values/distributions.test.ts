import { expect, it } from "vitest";
import { aboutInWords, inShort, isInOrder } from "./distributions";

it("is told by what was typed of it", () => {
  expect(aboutInWords("90 s")).toBe("90 s");
  expect(aboutInWords({ dist: "weibull", scale: "8 min", shape: 2 })).toBe("about 8 min");
  expect(aboutInWords({ dist: "pert", low: "2 min", mode: "5 min", high: "20 min" })).toBe("about 5 min");
  expect(aboutInWords({ dist: "discrete", values: ["9 min", "4 min"], weights: [1, 3] })).toBe("about 4–9 min");
  expect(aboutInWords({ dist: "empirical", values: [3, 1, 12] })).toBe("about 1–12");
  expect(aboutInWords({ dist: "normal", mean: "-5 min", sd: "3 min" })).toBe("about -5 min");
});

it("sees what is out of order", () => {
  expect(isInOrder({ dist: "triangular", low: "5 min", mode: "2 min", high: "9 min" })).toBe(false);
  expect(isInOrder({ dist: "triangular", low: "1 min", mode: "20 min", high: "9 min" })).toBe(false);
  expect(isInOrder({ dist: "beta", low: "1 min", mean: "20 min", sd: "1 min", high: "9 min" })).toBe(false);
  expect(isInOrder({ dist: "uniform", low: "1 h", high: "59 min" })).toBe(false);
  expect(isInOrder({ dist: "uniform", low: "59 min", high: "1 h" })).toBe(true);
  expect(isInOrder({ dist: "exponential", mean: "3 min" })).toBe(true);
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
