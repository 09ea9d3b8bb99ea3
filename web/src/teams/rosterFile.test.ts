import { expect, it } from "vitest";
import { filledIn } from "../study/document/types";
import { DAYS } from "../study/values/days";
import type { RosterRow } from "../study/values/rosters";
import { rostersAsCsv, rostersFromCsv, takeOver } from "./rosterFile";

function dice(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state * 1103515245 + 12345) % 2 ** 31;
    return Math.floor((state / 2 ** 31) * below);
  };
}

const NAMES = ["Lunch", 'Tea; "late"', "A: b, c", "  x"];
const TAKEN = [{}, { taken: "in-turn" as const }, { taken: "spread" as const, within: "2 h" }];

function aRow(roll: (below: number) => number): RosterRow {
  const time = () => `${String(roll(24)).padStart(2, "0")}:${["00", "30"][roll(2)]}`;
  const days = DAYS.map((day) => day.id).filter(() => roll(2) > 0);
  const breaks = Array.from({ length: roll(3) }, () => ({
    ...(roll(2) > 0 ? { name: NAMES[roll(4)] as string } : {}),
    ...(roll(2) > 0 ? { after: "90 min" } : { at: "10:15" }),
    length: "20 min",
    ...TAKEN[roll(3)],
    ...(roll(2) > 0 ? { paid: false } : {}),
  }));
  return {
    days: days.length > 0 ? days : ["mon"],
    from: time(),
    to: time(),
    people: roll(9),
    ...(breaks.length > 0 ? { breaks } : {}),
    ...(roll(2) > 0 ? { overtime: "30 min" } : {}),
    ...(roll(2) > 0 ? { from_date: "2027-03-08" } : {}),
    ...(roll(2) > 0 ? { to_date: "2027-04-30" } : {}),
  };
}

it.each(Array.from({ length: 40 }, (_, n) => n + 1))("goes out as a table and comes in again the same (%i)", (seed) => {
  const roll = dice(seed);
  const rosters = Array.from({ length: 1 + roll(3) }, () => Array.from({ length: 1 + roll(4) }, () => aRow(roll)));
  const study = filledIn({
    name: "Hall",
    teams: rosters.map((roster, n) => ({ id: `t${n}`, name: `Team ${n}, "the best"`, roster, closed: ["2027-03-09", "2027-03-11"] })),
  });
  const read = rostersFromCsv(rostersAsCsv(study), study);
  expect(read.lost).toEqual([]);
  const empty = structuredClone(study);
  for (const team of empty.teams) Object.assign(team, { roster: undefined, closed: undefined, size: 1 });
  takeOver(empty, read);
  expect(JSON.parse(JSON.stringify(empty.teams))).toEqual(study.teams);
});

it("says line by line what cannot be read, and what the first row lacks", () => {
  const study = filledIn({ name: "Hall", teams: [{ id: "clerks", name: "Clerks" }] });
  const table = [
    "Team;Days;From;To;People;Off on",
    "clerks;Mon-Fri;8;16;3;",
    "Robots;Mon;8;16;1;",
    "Clerks;holidays;8;16;1;",
    "Clerks;Mon;8;16;1;soon",
  ];
  const read = rostersFromCsv(table.join("\n"), study);
  expect(read.teams).toEqual([
    { team: "clerks", roster: [{ days: ["mon", "tue", "wed", "thu", "fri"], from: "08:00", to: "16:00", people: 3 }], closed: [] },
  ]);
  expect(read.lost).toEqual([
    "Line 3: There is no team “Robots”. It is left out.",
    expect.stringMatching(/^Line 4: “holidays” are no days/),
    expect.stringMatching(/^Line 5: “soon” is not a date/),
  ]);
  expect(rostersFromCsv("Mon;8;16", study).lost[0]).toMatch(/no.* called Team, Days, From, To, People/);
});
