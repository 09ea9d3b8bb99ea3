import { expect, it } from "vitest";
import { filledIn, type Stream } from "../document/types";
import { inIntervals, turnStream } from "./streams";

const total = (week: Record<string, number[] | undefined>) =>
  Object.values(week)
    .flat()
    .reduce<number>((sum, count) => sum + (count ?? 0), 0);

it("keeps the number of cases when the intervals change", () => {
  const week = { mon: [0, 0, 4, 6], fri: [1] };
  expect(inIntervals(week, 60, 15).mon?.slice(8, 10)).toEqual([1, 1]);
  expect(total(inIntervals(week, 60, 15))).toBeCloseTo(11, 6);
  expect(inIntervals(inIntervals(week, 60, 15), 15, 60)).toEqual(week);
});

it("turns a stream into every other kind and keeps what all have", () => {
  const study = filledIn({
    name: "Hall",
    streams: [{ id: "in", name: "In", kind: "random", gap: { dist: "exponential", mean: "10 min" }, to: "desk", open: "doors", limit: 5 }],
  });
  for (const kind of ["profile", "appointments", "dates", "random"] satisfies Stream["kind"][]) {
    turnStream(study, "in", kind);
    expect(study.streams[0]).toMatchObject({ id: "in", name: "In", kind, to: "desk", open: "doors", limit: 5 });
  }
  turnStream(study, "in", "profile");
  const profile = study.streams[0];
  expect(profile?.kind === "profile" && profile.week.mon?.slice(7, 9)).toEqual([0, 6]);
});
