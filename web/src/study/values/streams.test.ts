import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { placesOf, slotsOn, slotTimes } from "./streams";

const CASES = JSON.parse(readFileSync("../tests/shared/slots.json", "utf-8")) as {
  name: string;
  session: Parameters<typeof slotTimes>[0];
  minutes: number[];
}[];

it.each(CASES)("has its slots as both languages do: $name", ({ session, minutes }) => {
  const found = slotTimes(session);
  expect(found).toHaveLength(minutes.length);
  for (const [n, minute] of minutes.entries()) expect(found[n]).toBeCloseTo(minute, 9);
});

it("counts the places of each slot", () => {
  expect(placesOf({ days: ["mon"], from: "09:00", to: "10:00", every: "20 min", places: 2 })).toBe(6);
});

it("shows a slot after midnight on the day on which it begins", () => {
  const sessions = [
    { days: ["fri" as const], from: "23:00", to: "01:00", every: "45 min" },
    { days: ["sat" as const], from: "00:15", to: "00:45", every: "10 min", places: 3 },
    { days: ["sun" as const], from: "23:30", to: "00:30", every: "30 min" },
  ];
  expect(slotsOn(sessions, "fri")).toEqual([
    { minute: 1380, places: 1 },
    { minute: 1425, places: 1 },
  ]);
  expect(slotsOn(sessions, "sat").map(({ minute }) => minute)).toEqual([15, 25, 30, 35]);
  expect(slotsOn(sessions, "mon").map(({ minute }) => minute)).toEqual([0]);
});
