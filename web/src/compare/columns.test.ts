import { expect, it } from "vitest";
import type { Run } from "../api/queries";
import { offered, shortened, usual } from "./columns";

function run(number: number, parts: [string, number][]): Run {
  const made = parts.map(([scenario, done]) => ({
    scenario,
    name: scenario || "As it is today",
    replications: 9,
    done,
    stored: 0,
    problem: "",
  }));
  return { id: number + 10, number, version: 1, name: "", parts: made } as unknown as Run;
}

it("compares the scenarios of the latest run", () => {
  expect(
    usual([
      run(3, [
        ["", 9],
        ["more", 9],
      ]),
      run(2, [["", 9]]),
    ]),
  ).toEqual(["13:", "13:more"]);
});

it("compares the last two runs where the latest has one scenario, the older first", () => {
  expect(
    usual([
      run(3, [["", 9]]),
      run(2, [
        ["", 9],
        ["more", 9],
      ]),
    ]),
  ).toEqual(["12:", "13:"]);
});

it("offers nothing that has no replication", () => {
  const runs = [
    run(3, [
      ["", 9],
      ["more", 0],
    ]),
    run(2, [["", 0]]),
  ];
  expect(offered(runs).map(({ key }) => key)).toEqual(["13:"]);
  expect(usual(runs)).toEqual(["13:"]);
});

it("asks for many columns of a run in few words, in their order", () => {
  const runs = [
    run(
      2,
      ["", "a", "b", "c", "d"].map((scenario) => [scenario, 9]),
    ),
    run(1, [["", 9]]),
  ];
  const all = ["12:", "12:a", "12:b", "12:c", "12:d"];
  expect(shortened(all, runs)).toEqual({ column: ["12:", "12:*"], without: [] });
  expect(shortened(["11:", ...all], runs)).toEqual({ column: ["11:", "12:*"], without: [] });
  expect(shortened(["12:c", "12:", "12:a", "12:d"], runs)).toEqual({ column: ["12:c", "12:*"], without: ["12:b"] });
  for (const some of [["12:"], ["12:", "12:a"], ["12:", "12:b", "12:a"], ["12:a", "12:b", "11:"]])
    expect(shortened(some, runs)).toEqual({ column: some });
});
