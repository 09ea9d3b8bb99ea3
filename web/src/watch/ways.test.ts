import { expect, it } from "vitest";
import type { Stretch, Way } from "./useFollowed";
import { comingOf, endOf, isSameCase, waitedOf } from "./ways";

const stretch = (at: number, until: number, doing: string, lane = 0): Stretch => ({
  at,
  until,
  doing,
  step: "desk",
  name: "Desk",
  cause: "",
  whom: [],
  lane,
});
const way = (type: string, stretches: Stretch[]): Way => ({ case: 3, type, stretches, leaves_by: null, gives_up: false });

const morning = way("Residents", [
  stretch(60, 80, "waits"),
  stretch(80, 90, "work"),
  stretch(85, 95, "waits", 1),
  stretch(90, 100, "blocked"),
  stretch(100, 104, "travels"),
]);

it("adds up what a case itself has waited, blocked or in line, up to a moment", () => {
  expect([50, 70, 80, 95, 200].map((moment) => waitedOf(morning, moment))).toEqual([0, 10, 20, 25, 30]);
  expect([comingOf(morning), endOf(morning)]).toEqual([60, 104]);
});

it("knows the same case again by when it came and of which type it is", () => {
  expect(isSameCase(morning, way("Residents", [stretch(60, 61, "work")]))).toBe(true);
  expect(isSameCase(morning, way("Residents", [stretch(60.5, 61, "work")]))).toBe(false);
  expect(isSameCase(morning, way("Businesses", [stretch(60, 61, "work")]))).toBe(false);
});
