import { expect, it } from "vitest";
import { newShift } from "../study/edits/rosters";
import { breaksInShort, readBreaks, readDays, SHIFT_COLUMNS } from "./rosterColumns";

it.each([
  ["Mon–Fri", ["mon", "tue", "wed", "thu", "fri"]],
  ["monday to wednesday", ["mon", "tue", "wed"]],
  ["Mon, Wed and Sat", ["mon", "wed", "sat"]],
  ["fri-mon", ["mon", "fri", "sat", "sun"]],
  ["su", ["sun"]],
  ["daily", ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]],
])("reads the days %s", (text, days) => {
  expect(readDays(text)).toEqual({ days });
});

it.each(["", "t", "Mon-Tue-Wed", "holidays", "Mon,,Tue", "1-5"])("says what is wrong with the days “%s”", (text) => {
  expect(readDays(text)).toHaveProperty("problem");
});

it("writes breaks in short and reads them back", () => {
  const breaks = [
    { name: "Tea", after: "2 h", length: "15 min" },
    { at: "12:00", length: "40 min", taken: "in-turn" as const, paid: false },
    { after: "90 min", length: "20 min", taken: "spread" as const, within: "2 h" },
  ];
  const short = breaksInShort(breaks);
  expect(short).toBe("Tea: 15 min after 2 h; 40 min at 12:00, in turn, not paid; 20 min after 90 min, spread within 2 h");
  expect(readBreaks(short, breaks)).toEqual({ breaks });
  expect(readBreaks("30 min after 4 h, one after the other, unpaid")).toEqual({
    breaks: [{ after: "4 h", length: "30 min", taken: "in-turn", paid: false }],
  });
  expect(readBreaks("")).toEqual({ breaks: [] });
  for (const wrong of ["lunch", "30 after 4 h", "30 min at 25:00", "30 min after 4 h, sometimes"])
    expect(readBreaks(wrong)).toHaveProperty("problem");
});

it("takes over what is typed into each column, or says what is wrong", () => {
  const row = newShift();
  const put = (id: string, text: string) => SHIFT_COLUMNS.find((column) => column.id === id)?.put(row, text);
  expect(["days:Sat", "from:22", "to:0630", "people:12", "from_date:2027-03-01"].map((each) => put(...split(each)))).toEqual(
    Array(5).fill(null),
  );
  expect(row).toEqual({ days: ["sat"], from: "22:00", to: "06:30", people: 12, from_date: "2027-03-01" });
  expect(put("from_date", "")).toBeNull();
  expect(row).not.toHaveProperty("from_date");
  for (const [id, text] of [
    ["from", "25:00"],
    ["people", "1.5"],
    ["people", "many"],
    ["to_date", "2027-13-01"],
  ] as const)
    expect(put(id, text)).toMatch(/\w/);
});

const split = (text: string) => [text.slice(0, text.indexOf(":")), text.slice(text.indexOf(":") + 1)] as [string, string];
