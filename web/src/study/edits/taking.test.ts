import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { filledIn, type Serve, type StudyDocument } from "../document/types";
import { takeDraft } from "./drafts";
import { dropStaleSources } from "./sources";
import { type Taken, takeOver } from "./taking";

const CASES = JSON.parse(readFileSync("../tests/shared/taking.json", "utf-8")) as {
  name: string;
  before: StudyDocument;
  taken: Taken[];
  after: StudyDocument;
}[];
const SOURCE = { file: "kiosk.csv", rows: 300, date: "2027-05-01", method: "gamma by maximum likelihood" };
const study = (): StudyDocument =>
  filledIn({
    name: "Hall",
    case_types: [{ id: "parking", name: "Parking" }],
    steps: [
      { id: "counter", name: "Counter", kind: "serve", work: "5 min", next: [{ to: "served" }] },
      { id: "served", name: "Served", kind: "exit" },
    ],
    teams: [{ id: "clerks", name: "Clerks", size: 3 }],
  });
const counter = (now: StudyDocument) => now.steps[0] as Serve;
const work = (at: string, value: unknown) => ({ at, set: [{ at, value }] });

it.each(CASES)("$name", ({ before, taken, after }) => {
  const now = structuredClone(before);
  for (const each of taken) takeOver(now, each, SOURCE);
  const sources = Object.fromEntries(taken.map(({ at }) => [at, SOURCE]));
  expect(now).toEqual({ ...after, sources });
});

it("forgets where a value came from once it is another, or gone, and no sooner", () => {
  const taken = study();
  takeOver(taken, work("/steps/counter/work", "6 min"), SOURCE);
  const renamed = { ...taken, name: "Town hall" };
  expect(dropStaleSources(taken, renamed)).toBe(renamed);
  const typed = { ...taken, steps: [{ ...counter(taken), work: "8 min" }, ...taken.steps.slice(1)] };
  expect(dropStaleSources(taken, typed).sources).toEqual({});
  expect(dropStaleSources(taken, { ...taken, steps: [] }).sources).toEqual({});
  const again = { ...typed, sources: { "/steps/counter/work": { ...SOURCE, file: "other.csv" } } };
  expect(dropStaleSources(taken, again)).toBe(again);
});

it("puts a flow in place of the old one, without what spoke of that", () => {
  const now = { ...study(), targets: [{ figure: "step/counter/wait/p90", at_most: "5 min" }], scenarios: [{ id: "x", name: "X" }] };
  const draft = filledIn({ name: "kiosk.csv", steps: [{ id: "leaves", name: "Leaves", kind: "exit" }] });
  takeDraft(now, draft);
  expect(now.steps.map(({ id }) => id)).toEqual(["leaves"]);
  expect([now.name, now.targets, now.scenarios, now.teams]).toEqual(["Hall", undefined, undefined, []]);
});
