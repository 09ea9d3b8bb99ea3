import { expect, it } from "vitest";
import { dayOf, midnightBefore, momentInWords, readMoment, weekOf } from "./moments";

/** A Wednesday at 8. */
const START = "2027-03-03T08:00";

it("tells a moment by its day and time", () => {
  expect(momentInWords(START, 0)).toBe("Wednesday 08:00");
  expect(momentInWords(START, 1440 + 222.5, true)).toBe("Thursday 11:42:30");
  expect([weekOf(START, 0), weekOf(START, 5 * 1440)]).toEqual([1, 2]);
  expect([dayOf(START, 0), dayOf(START, 16 * 60), midnightBefore(START, 17 * 60)]).toEqual([0, 1, 960]);
});

it.each([
  ["9:30", 100, 90],
  ["Thu 11:42", 100, 1440 + 222],
  ["mon 8.00", 6 * 1440, 5 * 1440],
  ["Monday 08:00 week 2", 0, 5 * 1440],
  ["Mon 08:00", 0, -2 * 1440],
])("reads %s", (text, near, moment) => {
  expect(readMoment(text, START, near)).toBe(moment);
});

it.each(["", "noon", "25:00", "Xyz 10:00"])("does not read “%s”", (text) => {
  expect(readMoment(text, START, 0)).toBeNull();
});
