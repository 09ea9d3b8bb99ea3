import { expect, it } from "vitest";
import type { Team } from "../document/types";
import { DAYS } from "../values/days";
import { fewestShifts, headcountOf, SLOTS, setHeadcount } from "./headcount";

/** A small generator of numbers that are the same in every run. */
function dice(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state * 1103515245 + 12345) % 2 ** 31;
    return Math.floor((state / 2 ** 31) * below);
  };
}

const none = () => new Array<number>(7 * SLOTS).fill(0);

function given(shifts: { from: number; long: number; people: number; days: number[] }[]): number[] {
  const people = none();
  for (const { from, long, people: many, days } of shifts)
    for (const day of days)
      for (let slot = 0; slot < long; slot++) {
        const place = (day * SLOTS + from + slot) % people.length;
        people[place] = (people[place] ?? 0) + many;
      }
  return people;
}

const WORKDAYS = [0, 1, 2, 3, 4];

it("makes a working week of one row, and of two shifts two", () => {
  const early = { from: 16, long: 16, people: 4, days: WORKDAYS };
  const late = { from: 20, long: 18, people: 3, days: WORKDAYS };
  expect(fewestShifts(given([early]))).toEqual([early]);
  expect(fewestShifts(given([early, late]))).toEqual([early, late]);
  expect(fewestShifts(none())).toEqual([]);
});

it("passes midnight and the end of the week, and is there around the clock", () => {
  const night = { from: 44, long: 16, people: 2, days: [5, 6] };
  expect(fewestShifts(given([night]))).toEqual([night]);
  const always = { from: 0, long: 48, people: 3, days: [0, 1, 2, 3, 4, 5, 6] };
  expect(fewestShifts(given([always]))).toEqual([always]);
  const twoDays = given([
    { from: 10, long: 40, people: 1, days: [0] },
    { from: 2, long: 48, people: 1, days: [1] },
  ]);
  expect(given(fewestShifts(twoDays))).toEqual(twoDays);
});

it.each(Array.from({ length: 60 }, (_, n) => n + 1))(
  "gives the people that were asked for with no more shifts than made them (%i)",
  (seed) => {
    const roll = dice(seed);
    const shifts = Array.from({ length: 1 + roll(6) }, () => ({
      from: roll(SLOTS),
      long: 1 + roll(24),
      people: 1 + roll(4),
      days: roll(3) > 0 ? WORKDAYS : DAYS.map((_, n) => n).filter(() => roll(2) > 0),
    }));
    const people = given(shifts);
    const found = fewestShifts(people);
    expect(given(found)).toEqual(people);
    expect(found.length).toBeLessThanOrEqual(shifts.length);
  },
);

it("takes any grid, and ends soon", () => {
  const roll = dice(7);
  const people = none().map(() => roll(9));
  expect(given(fewestShifts(people))).toEqual(people);
});

it("keeps the breaks of shifts that have the same hours, and shifts that are valid between dates", () => {
  const breaks = [{ after: "2 h", length: "20 min" }];
  const team: Team = {
    id: "clerks",
    name: "Clerks",
    absence: 0.5,
    roster: [
      { days: ["mon", "tue"], from: "08:00", to: "16:00", people: 2, breaks },
      { days: ["mon"], from: "09:00", to: "10:00", people: 7, from_date: "2027-03-08", to_date: "2027-03-08" },
    ],
  };
  const people = headcountOf(team);
  expect([people[15], people[16], people[31], people[32], people[64]]).toEqual([0, 2, 2, 0, 2]);
  for (let slot = 96 + 16; slot < 96 + 32; slot++) people[slot] = 2;
  setHeadcount(team, people);
  expect(team.roster).toEqual([
    { days: ["mon", "tue", "wed"], from: "08:00", to: "16:00", people: 2, breaks },
    { days: ["mon"], from: "09:00", to: "10:00", people: 7, from_date: "2027-03-08", to_date: "2027-03-08" },
  ]);
  const plain: Team = { id: "a", name: "A", size: 3 };
  setHeadcount(plain, none());
  expect(plain).toEqual({ id: "a", name: "A", size: 0 });
});
