import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import type { Team } from "../document/types";
import { breaksOf, overtimeMinutes, paidHours, paidMinutes, presentInWeek, type RosterRow, wagesOf, wagesOfAll } from "./rosters";

const shared = (name: string) => JSON.parse(readFileSync(`../tests/shared/${name}.json`, "utf-8"));
interface Shared {
  name: string;
  row: RosterRow;
  breaks: [number, number, number, boolean][];
  paid_minutes: number;
  overtime_minutes?: number;
}
const ROSTERS = shared("rosters") as Shared[];
const PRESENCE = shared("presence") as { name: string; start: string; team: Team; present: Record<string, number> }[];

it.each(ROSTERS)("lets breaks fall as both languages do: $name", ({ row, breaks, paid_minutes, overtime_minutes = 0 }) => {
  expect(breaksOf(row).map(({ member, begins, ends, paid }) => [member, begins, ends, paid])).toEqual(breaks);
  expect(paidMinutes(row)).toBe(paid_minutes);
  expect(overtimeMinutes(row)).toBe(overtime_minutes);
});

it.each(PRESENCE)("has people there as both languages do: $name", ({ start, team, present }) => {
  const found = presentInWeek(start, team);
  expect(found).toHaveLength(672);
  for (const [minute, people] of Object.entries(present)) expect([minute, found[Number(minute) / 15]]).toEqual([minute, people]);
});

it("adds up the wages of a week", () => {
  const rows = ROSTERS.slice(0, 2).map(({ row }) => row);
  const team: Team = { id: "clerks", name: "Clerks", rate: 20, roster: rows };
  const start = "2027-03-01T08:00";
  expect(wagesOf(start, team)).toBe((20 * (1800 + 1440)) / 60);
  expect(wagesOf(start, { ...team, paid: "used" })).toBe(0);
  expect(wagesOf(start, { ...team, absence: 0.25 })).toBe((20 * (1800 + 1440) * 0.75) / 60);
  expect(wagesOf(start, { ...team, absence: 0.25, absence_paid: true })).toBe((20 * (1800 + 1440)) / 60);
  expect(wagesOfAll(start, [team, { ...team, absence: 0.25 }, team])).toBe((20 * (1800 + 1440) * 2.75) / 60);
  expect(wagesOfAll("2027-03-03T08:00", [{ ...team, roster: [] }, team])).toBe(
    (20 * (1800 + 1440)) / 60 + wagesOf(start, { ...team, roster: [] }),
  );
  const later = rows.map((row) => ({ ...row, from_date: "2027-03-02" }));
  expect(wagesOf(start, { ...team, roster: later })).toBe((20 * (1800 / 2 + 1440)) / 60);
  expect(paidHours("2027-03-03T00:00", later)).toBe((1800 + 1440) / 60);
});
