import { expect, it } from "vitest";
import type { Answer } from "../api/queries";
import { bandsOf, busiest, daysOf, hoursOf } from "./week";

const A_DAY = 24;
const week = (values: Record<number, number>) => Array.from({ length: 7 * A_DAY }, (_, n) => values[n] ?? 0);
const tuesday = A_DAY + 9;
const friday = 4 * A_DAY + 15;
const answer = {
  interval: 60,
  need: { clerks: week({ [tuesday]: 2, [friday]: 5 }) },
  need_by_theory: { clerks: week({ [tuesday]: 1 }) },
  present: { clerks: week({ [tuesday]: 3 }), rooms: week({}) },
} as unknown as Answer;
const shown = { teams: {}, levers: {}, there: { clerks: week({ [tuesday - 1]: 1 }) } };

it("shows the days and hours in which anybody is needed or there", () => {
  expect(daysOf(answer, shown)).toEqual([1, 4]);
  expect(hoursOf(answer, shown)).toEqual({ from: 8 * 60, to: 16 * 60 });
  expect(busiest(answer, [1, 4])).toBe(4);
});

it("gives every team of a day what is needed, there today and proposed", () => {
  const [clerks, rooms] = bandsOf(answer, shown, 1, { from: 8 * 60, to: 10 * 60 });
  expect(clerks).toEqual({ team: "clerks", needed: [0, 2], byTheory: [0, 1], present: [0, 3], proposed: [1, 0] });
  expect(rooms).toEqual({ team: "rooms", needed: [0, 0], byTheory: [0, 0], present: [0, 0], proposed: [0, 0] });
});

it("shows a working day where nobody is needed or there", () => {
  const nobody = { ...answer, need: {}, present: {} } as Answer;
  expect(hoursOf(nobody, { teams: {}, levers: {}, there: {} })).toEqual({ from: 480, to: 1020 });
});
