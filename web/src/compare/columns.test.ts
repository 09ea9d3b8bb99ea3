import { expect, it } from "vitest";
import type { Run } from "../api/queries";
import { offered, usual } from "./columns";

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
