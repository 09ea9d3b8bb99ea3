import { expect, it } from "vitest";
import { filledIn } from "../study/document/types";
import { daysInWords } from "../study/values/days";
import { coverageOf, gapInWords, gapsIn } from "./coverage";

const study = filledIn({
  name: "Hall",
  start: "2027-03-01T08:00",
  teams: [
    {
      id: "clerks",
      name: "Clerks",
      roster: [
        { days: ["mon"], from: "08:00", to: "12:00", people: 2, breaks: [{ after: "2 h", length: "15 min", taken: "in-turn" }] },
        { days: ["mon"], from: "10:00", to: "11:00", people: 1 },
      ],
    },
    { id: "helpers", name: "Helpers", size: 1 },
  ],
});
const load = { clerks: Array.from({ length: 672 }, () => 2.5), helpers: Array.from({ length: 672 }, () => 0) };

it("takes breaks off who is there, and names where too few are", () => {
  const coverage = coverageOf(study, ["clerks"], load, { from: 480, to: 720 });
  expect(coverage.there).toEqual([2, 2, 2, 2, 2, 2, 2, 2, 2, 2, 3, 3, 2, 2, 2, 2]);
  expect(gapsIn(coverage, 480).map((gap) => gapInWords(gap))).toEqual(["08:00–10:30 short by 0.5", "11:00–12:00 short by 0.5"]);
});

it("adds up teams that share work, and goes on over the end of the week", () => {
  const span = { from: 6 * 1440 + 1380, to: 7 * 1440 + 600 };
  const coverage = coverageOf(study, ["clerks", "helpers"], load, span);
  expect([coverage.there.length, coverage.there[0], coverage.there.at(-1)]).toEqual([44, 1, 3]);
  expect(gapsIn(coverage, span.from)).toEqual([{ from: span.from, to: 7 * 1440 + 480, by: 1.5 }]);
  expect(gapInWords({ from: 1440, to: 1500, by: 0.01 }, true)).toBe("Tue 00:00–01:00 short by a little");
  expect(gapsIn({ there: [1], needed: [1.004] }, 0)).toEqual([]);
});

it("says days in words", () => {
  expect(daysInWords(["mon", "tue", "wed", "thu", "fri"])).toBe("Monday to Friday");
  expect(daysInWords(["mon", "tue", "sat"])).toBe("Monday, Tuesday, Saturday");
  expect(daysInWords(["fri", "sat", "sun", "mon"], "short")).toBe("Mon, Fri–Sun");
});
