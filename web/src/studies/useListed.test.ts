import { expect, it } from "vitest";
import { listed } from "./useListed";

const study = (name: string, changed_at: string, runs: number) => ({ id: runs, name, version: 1, changed_at, runs });
const STUDIES = [
  study("Phone line 10", "2027-03-01", 4),
  study("phone line 9", "2027-03-03", 0),
  study("Residents' hall", "2027-03-02", 7),
];
const names = (sought: string, by: "name" | "changed_at" | "runs", descending: boolean) =>
  listed(STUDIES, sought, { by, descending }).map((each) => each.name);

it("finds what has all words that are sought, in any case", () => {
  expect(names("LINE phone", "name", false)).toEqual(["phone line 9", "Phone line 10"]);
  expect(names("  ", "name", false)).toHaveLength(3);
  expect(names("moon", "name", false)).toEqual([]);
});

it("sorts by name, by last change and by runs, both ways", () => {
  expect(names("", "changed_at", true)).toEqual(["phone line 9", "Residents' hall", "Phone line 10"]);
  expect(names("", "runs", false)).toEqual(["phone line 9", "Phone line 10", "Residents' hall"]);
  expect(names("", "name", true)).toEqual(["Residents' hall", "Phone line 10", "phone line 9"]);
});
