import { expect, it } from "vitest";
import { costsOf, meansOf, sideBySide, type Week } from "./weeks";

const week = (wait: number | null, clerks: number, desk?: number): Week => ({
  wait,
  wait_p90: null,
  inside: 1,
  cost: 100,
  costs: [],
  loads: { clerks },
  lines: desk === undefined ? {} : { desk },
});

it("takes means over the weeks that say something", () => {
  const means = meansOf([week(2, 0.5, 3), week(null, 0.7), week(4, 0.6)]);
  expect(means).toMatchObject({ wait: 3, wait_p90: null, inside: 1, cost: 100, lines: { desk: 1 } });
  expect(means?.loads.clerks).toBeCloseTo(0.6, 9);
  expect(meansOf([])).toBeNull();
});

it("compares the weeks that both have, and no more", () => {
  const found = sideBySide([week(2, 0.5), week(4, 0.5), week(90, 0.5)], [week(1, 0.4), week(2, 0.4)]);
  expect([found?.now.wait, found?.before.wait]).toEqual([3, 1.5]);
  expect(sideBySide([], [week(1, 0.4)])).toBeNull();
});

it("finds no difference in an unchanged study, however many weeks there were time for", () => {
  const weeks = [week(2, 0.5), week(4, 0.5), week(9, 0.5)];
  for (const many of [1, 2, 3]) {
    const found = sideBySide(weeks, weeks.slice(0, many));
    expect(found?.now).toEqual(found?.before);
  }
});

it("adds up money line by line: a week without a line has nothing of it", () => {
  const wages = { team: "clerks", line: "regular", words: "Regular time", per_day: 100, per_open_day: 140, per_case: 2 };
  const extra = { team: "clerks", line: "overtime-base", words: "Overtime", per_day: 8, per_open_day: 12, per_case: 0.5 };
  expect(
    costsOf([
      { ...week(1, 0.5), costs: [wages] },
      { ...week(1, 0.5), costs: [{ ...wages, per_day: 200, per_open_day: 280 }, extra] },
    ]),
  ).toEqual([
    { ...wages, per_day: 150, per_open_day: 210 },
    { ...extra, per_day: 4, per_open_day: 6, per_case: 0.25 },
  ]);
  expect(costsOf([])).toBeNull();
});
