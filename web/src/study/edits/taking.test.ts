import { expect, it } from "vitest";
import { filledIn, type Serve, type StudyDocument } from "../document/types";
import { takeDraft } from "./drafts";
import { dropStaleSources } from "./sources";
import { takeOver } from "./taking";

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

it("puts a value where it belongs, with its source", () => {
  const now = study();
  takeOver(now, work("/steps/counter/work", "6 min"), SOURCE);
  expect(counter(now).work).toBe("6 min");
  expect(now.sources).toEqual({ "/steps/counter/work": SOURCE });
});

it("tells types apart where one duration was for all, and keeps that for the others", () => {
  const now = study();
  takeOver(now, work("/steps/counter/work/by_type/parking", "7 min"), SOURCE);
  takeOver(now, work("/steps/counter/work/by_type/address", "9 min"), SOURCE);
  expect(counter(now).work).toEqual({ by_type: { parking: "7 min", address: "9 min" }, otherwise: "5 min" });
});

it("makes an exit for those who give up, once", () => {
  const now = study();
  const exit = { id: "gave-up-by-log", name: "Gave up", kind: "exit", abandoned: true };
  const at = "/steps/counter/line/patience";
  const set = [
    { at: "/steps/-", value: exit },
    { at, value: "20 min" },
    { at: "/steps/counter/line/gives_up_to", value: exit.id },
  ];
  takeOver(now, { at, set }, SOURCE);
  takeOver(now, { at, set }, SOURCE);
  expect(now.steps.map(({ id }) => id)).toEqual(["counter", "served", "gave-up-by-log"]);
  expect(counter(now).line).toEqual({ patience: "20 min", gives_up_to: "gave-up-by-log" });
});

it("takes a size away where shifts come in", () => {
  const now = study();
  const row = { days: ["mon"], from: "08:00", to: "16:00", people: 2 };
  const set = [
    { at: "/teams/clerks/size", value: null },
    { at: "/teams/clerks/roster", value: [row] },
  ];
  takeOver(now, { at: "/teams/clerks/roster", set }, SOURCE);
  expect(now.teams[0]).toEqual({ id: "clerks", name: "Clerks", roster: [row] });
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
