import { expect, it } from "vitest";
import type { Team } from "../document/types";
import { type RosterRow, shiftOf } from "../values/rosters";
import { breakMoved, copyDay, moved, newShift, split, stretched, toAlwaysThere, toRoster } from "./rosters";

const early: RosterRow = {
  days: ["mon"],
  from: "08:00",
  to: "16:00",
  people: 3,
  breaks: [
    { after: "2 h", length: "15 min" },
    { at: "13:00", length: "40 min" },
    { after: "6 h", length: "15 min", taken: "in-turn" },
  ],
};

it("moves a shift with its breaks, over midnight and back", () => {
  const late = moved(early, 10 * 60);
  expect([late.from, late.to, late.breaks?.[1]?.at]).toEqual(["18:00", "02:00", "23:00"]);
  expect(shiftOf(late)).toEqual([1080, 1560]);
  expect(moved(late, -10 * 60)).toEqual(early);
  expect([moved(early, -600).from, moved(early, 1200).from]).toEqual(["00:00", "23:45"]);
});

it("stretches either end, to no less than a step and no more than a day", () => {
  expect(stretched(early, "to", 90, 15).to).toBe("17:30");
  expect(stretched(early, "from", -60, 15).from).toBe("07:00");
  expect(stretched(early, "from", 600, 15).from).toBe("15:45");
  expect(shiftOf(stretched(early, "to", 30 * 60, 15))).toEqual([480, 480 + 1440]);
});

it("moves a break within its shift, in the words in which it is told", () => {
  expect(breakMoved(early, 0, 45).breaks?.[0]?.after).toBe("2.75 h");
  expect(breakMoved(early, 1, -30).breaks?.[1]?.at).toBe("12:30");
  expect(breakMoved(early, 1, 600).breaks?.[1]?.at).toBe("15:20");
  expect(breakMoved(early, 0, -600).breaks?.[0]?.after).toBe("0 h");
  expect(breakMoved(moved(early, 600), 1, 90).breaks?.[1]?.at).toBe("00:30");
});

it("splits a shift: each part has the breaks that begin in it", () => {
  const [first, second] = split(early, 12 * 60);
  expect([first.from, first.to, second.from, second.to]).toEqual(["08:00", "12:00", "12:00", "16:00"]);
  expect(first.breaks).toEqual([{ after: "2 h", length: "15 min" }]);
  expect(second.breaks).toEqual([
    { at: "13:00", length: "40 min" },
    { after: "120 min", length: "15 min", taken: "in-turn" },
  ]);
  expect(split(newShift(), 720)[1]).not.toHaveProperty("breaks");
});

it("turns who is always there into a shift, and back", () => {
  const team: Team = { id: "clerks", name: "Clerks", size: 4 };
  toRoster(team);
  expect(team).toEqual({ id: "clerks", name: "Clerks", roster: [{ ...newShift(), people: 4 }] });
  team.roster?.push({ ...newShift(["mon"]), people: 2 });
  toAlwaysThere(team);
  expect(team).toEqual({ id: "clerks", name: "Clerks", size: 6 });
});

it("copies a day to others, which then have its shifts and no others, but those of a date alone", () => {
  const once: RosterRow = { days: ["sat"], from: "09:00", to: "12:00", people: 1, from_date: "2027-03-06", to_date: "2027-03-06" };
  const team: Team = {
    id: "clerks",
    name: "Clerks",
    roster: [early, { ...newShift(["sat", "sun"]), people: 2 }, { ...newShift(["sat"]), people: 5 }, once],
  };
  copyDay(team, "mon", ["fri", "sat"]);
  expect(team.roster?.map((row) => [row.days, row.people])).toEqual([
    [["mon", "fri", "sat"], 3],
    [["sun"], 2],
    [["sat"], 1],
  ]);
  const weekend: Team = { id: "porters", name: "Porters", roster: [newShift(["sat"])] };
  copyDay(weekend, "mon", ["sat"]);
  expect([weekend.roster, weekend.size]).toEqual([undefined, 0]);
});

it("keeps overtime at the end of a shift that is stretched or split", () => {
  const late: RosterRow = { days: ["mon"], from: "14:00", to: "20:00", people: 1, overtime: "2 h" };
  expect(stretched(late, "to", 60, 15).overtime).toBe("2 h");
  expect(stretched(late, "from", 300, 15).overtime).toBe("1 h");
  expect(split(late, 19 * 60).map((each) => each.overtime)).toEqual(["1 h", "1 h"]);
  expect(split(late, 17 * 60).map((each) => each.overtime)).toEqual([undefined, "2 h"]);
});
