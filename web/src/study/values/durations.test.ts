import { describe, expect, it } from "vitest";
import { inUnit, minutes, parseDuration, readable, spelled } from "./durations";

describe("a duration as it is typed", () => {
  it.each([
    ["3 min", "3 min"],
    ["90s", "90 s"],
    ["1h30", "90 min"],
    ["1 h 30 min", "90 min"],
    ["2d 12h", "60 h"],
    ["1,5 hours", "1.5 h"],
    ["1 m 30 s", "90 s"],
    ["4 weeks", "4 wk"],
    ["1m30", "90 s"],
  ])("%s is %s", (typed, value) => expect(parseDuration(typed)).toEqual({ value }));

  it.each(["5", "", "soon", "5 parsecs", "3 min or so", "-2 min", "10s5"])("“%s” is refused in words", (typed) => {
    expect(parseDuration(typed)).toHaveProperty("problem");
  });

  it("says which units a bare number could have", () => {
    expect(parseDuration("5")).toEqual({ problem: "“5” has no unit. Write 5 min, 5 s or 5 h." });
  });
});

it("turns what the file holds into minutes and back", () => {
  expect(minutes("1.5 h")).toBe(90);
  expect(minutes("90s")).toBe(1.5);
  expect(inUnit(90, "h")).toBe("1.5 h");
  expect(readable(2.6)).toBe("2.6 min");
  expect(readable(0.5)).toBe("30 s");
  expect(readable(300)).toBe("5 h");
  expect([spelled("4 wk"), spelled("1 h"), spelled("1.5 d")]).toEqual(["4 weeks", "1 hour", "1.5 days"]);
});
