import { expect, it } from "vitest";
import type { Distribution } from "../document/types";
import { readShortForm, shortForm } from "./shortForm";

const FORMS: [string, Distribution][] = [
  ["5 min", "5 min"],
  ["3–9 min", { dist: "uniform", low: "3 min", high: "9 min" }],
  ["3–5–9 min", { dist: "triangular", low: "3 min", mode: "5 min", high: "9 min" }],
  ["90 s–5 min", { dist: "uniform", low: "90 s", high: "5 min" }],
  ["about 8 min", { dist: "exponential", mean: "8 min" }],
  ["8 ± 4 min", { dist: "lognormal", mean: "8 min", sd: "4 min" }],
  ["8 ± 4 min (normal)", { dist: "normal", mean: "8 min", sd: "4 min" }],
  ["3–5–9 min (pert)", { dist: "pert", low: "3 min", mode: "5 min", high: "9 min" }],
];

it.each(FORMS)("writes and reads %s", (text, distribution) => {
  expect(shortForm(distribution)).toBe(text);
  expect(readShortForm(text)).toEqual({ value: distribution });
});

it("reads what people type for the same", () => {
  expect(readShortForm("3-9 min")).toEqual({ value: { dist: "uniform", low: "3 min", high: "9 min" } });
  expect(readShortForm("~8min")).toEqual({ value: { dist: "exponential", mean: "8 min" } });
  expect(readShortForm("8 +- 4 min")).toEqual({ value: { dist: "lognormal", mean: "8 min", sd: "4 min" } });
  expect(readShortForm("1,5 h")).toEqual({ value: "1.5 h" });
});

it.each([
  ["9–3 min", /in order/],
  ["5", /no unit/],
  ["soon", /not a duration/],
  ["5 min (weibull)", /sheet/],
])("says what is wrong with %s", (text, words) => {
  const read = readShortForm(text);
  expect("problem" in read && read.problem).toMatch(words);
});
