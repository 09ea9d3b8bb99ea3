import { expect, it } from "vitest";
import { filledIn } from "../study/document/types";
import { beginningsOf, previewed, rowsIn, shiftInWords, spanOf, withDigit } from "./views";

const night = { days: ["mon" as const, "sun" as const], from: "22:00", to: "06:30", people: 1 };
const study = filledIn({
  name: "Hall",
  teams: [
    { id: "porters", name: "Porters", roster: [night, { days: ["tue"], from: "08:00", to: "16:00", people: 3 }] },
    { id: "clerks", name: "Clerks", size: 2 },
  ],
});

it("shows a day from before the first shift to after the last, also over midnight", () => {
  expect(spanOf(study, 0)).toEqual({ from: 21 * 60, to: 31 * 60 });
  expect(spanOf(study, 1)).toEqual({ from: 1440 + 7 * 60, to: 1440 + 17 * 60 });
  expect(spanOf(study, 2)).toEqual({ from: 2 * 1440 + 7 * 60, to: 2 * 1440 + 19 * 60 });
  expect(spanOf(study, "week")).toEqual({ from: 0, to: 10080 });
});

it("has the shifts of a day or of the week", () => {
  const [porters] = study.teams;
  expect(porters && rowsIn(porters, 1).map(({ n }) => n)).toEqual([1]);
  expect(beginningsOf(night, "week")).toEqual([0, 6 * 1440]);
  expect(porters && shiftInWords(porters, night)).toBe("Porters, Monday, Sunday, 22:00 to 06:30, 1 person");
});

it("shows a shift as it is dragged, and leaves the study as it is", () => {
  const shown = previewed(study, { rows: [{ team: "porters", row: 0 }], how: (row) => ({ ...row, from: "23:00" }) });
  expect(shown.teams[0]?.roster?.map((row) => row.from)).toEqual(["23:00", "08:00"]);
  expect(study.teams[0]?.roster?.[0]?.from).toBe("22:00");
});

it("takes digits that follow each other at once for one number", () => {
  const one = withDigit({ digits: "", at: 0 }, "1", 5000);
  expect(withDigit(one, "2", 5400).digits).toBe("12");
  expect(withDigit(one, "2", 6300).digits).toBe("2");
});
