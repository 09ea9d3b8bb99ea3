import { expect, test } from "vitest";
import { readPasted } from "./pasted";

test("lines of a spreadsheet become figures with values", () => {
  const text = "Wait at Counter\t9 min\tStop watch\nCases completed\t5,000 a month\nClerks at work\t85 %\tTheir own estimate";
  expect(readPasted(text)).toEqual([
    { words: "Wait at Counter", value: "9 min", source: "Stop watch" },
    { words: "Cases completed", value: "5000", per: "month", source: "" },
    { words: "Clerks at work", value: "85", source: "Their own estimate" },
  ]);
});

test("numbers are read as they are written here and there", () => {
  expect(readPasted("Wait; 7,5 minutes\n\nCost; EUR 1 200 per day").map(({ value, per }) => [value, per])).toEqual([
    ["7.5 min", undefined],
    ["1200", "day"],
  ]);
});

test("a line without a number keeps its words, so that it can be told", () => {
  expect(readPasted("Only words")).toEqual([{ words: "Only words", value: "", source: "" }]);
});
