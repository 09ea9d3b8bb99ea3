import { beforeEach, expect, it } from "vitest";
import { RUN, type StudyDocument } from "../study/document/types";
import { ableOf, askedFor, askingSteps, loadOf, putNeeds, thereOf } from "./needs";

let study: StudyDocument;

beforeEach(() => {
  study = {
    name: "Clinic",
    case_types: [],
    streams: [],
    steps: [
      {
        id: "exam",
        name: "Examination",
        kind: "serve",
        work: "9 min",
        needs: [
          { team: "vets", as: "vet" },
          { team: "tables", count: 2 },
        ],
        next: [],
      },
      { id: "till", name: "Till", kind: "serve", work: "2 min", needs: [{ skill: "sums" }], next: [] },
      { id: "rest", name: "Rest", kind: "delay", time: "9 min", next: [] },
    ],
    teams: [
      { id: "vets", name: "Vets", size: 2 },
      { id: "tables", name: "Tables", size: 3, kind: "places" },
      { id: "nurses", name: "Nurses", size: 1, skills: ["sums"] },
    ],
    run: RUN,
  } as unknown as StudyDocument;
});

const put = (row: number, column: number, text: string) => putNeeds(study, [{ row, column, text }]);
const needs = (n: number) => askingSteps(study)[n]?.needs;

it("has the steps where work is done beside all teams and skills", () => {
  expect(askingSteps(study).map((step) => step.name)).toEqual(["Examination", "Till"]);
  expect(ableOf(study).map((able) => able.name)).toEqual(["Vets", "Tables", "Nurses", "sums"]);
  const asked = askingSteps(study).map((step) => ableOf(study).map((able) => askedFor(step, able)));
  expect(asked).toEqual([
    ["1", "2", "", ""],
    ["", "", "", "1"],
  ]);
});

it("takes over a number, keeps what else is set about a need, and takes it away where nothing is typed", () => {
  expect(put(0, 0, "3")).toBeNull();
  expect(put(0, 1, "1")).toBeNull();
  expect(put(0, 2, "1")).toBeNull();
  expect(put(1, 3, "")).toBeNull();
  expect(needs(0)).toEqual([{ team: "vets", as: "vet", count: 3 }, { team: "tables" }, { team: "nurses" }]);
  expect(needs(1)).toEqual([]);
  expect(put(1, 3, "2")).toBeNull();
  expect(needs(1)).toEqual([{ skill: "sums", count: 2 }]);
});

it("says what is no number of people, and what is too much for a cell", () => {
  expect(put(0, 0, "some")).toMatch(/^Examination, Vets: /);
  expect(put(0, 0, "1.5")).toBe("Examination, Vets: give a whole number.");
  needs(0)?.push({ team: "vets", keep_until: "till" });
  expect(put(0, 0, "3")).toBe("Examination asks for Vets 2 times, each in its own way. Change it on its sheet.");
  expect(put(0, 0, "2")).toBeNull();
  expect(put(0, 0, "0")).toBeNull();
  expect(needs(0)).toEqual([{ team: "tables", count: 2 }]);
});

it("adds up the load that a column brings, and those who are there for it", () => {
  const team = (there: number) => ({ there, needed: [], shared_with: [] });
  const staffing = { teams: { vets: team(2), tables: team(3), nurses: team(0.9) }, needs: { exam: [0.8, 1.6], till: [0.1] } };
  const [exam, till] = askingSteps(study);
  const [vets, tables, , sums] = ableOf(study);
  if (!exam || !till || !vets || !tables || !sums) throw new Error("missing");
  expect([loadOf(exam, vets, staffing), loadOf(exam, tables, staffing), loadOf(till, sums, staffing)]).toEqual([0.8, 1.6, 0.1]);
  expect([loadOf(till, vets, staffing), loadOf(exam, vets, undefined), thereOf(study, sums, staffing)]).toEqual([0, 0, 0.9]);
});
