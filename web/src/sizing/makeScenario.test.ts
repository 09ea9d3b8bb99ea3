import { expect, it } from "vitest";
import type { StudyDocument } from "../study/document/types";
import { RUN } from "../study/document/types";
import { applied, type Scenario } from "../study/scenarios/scenarios";
import { scenariosWith } from "./makeScenario";

const row = (from: string, people: number) => ({ days: ["mon" as const], from, to: "16:00", people });
const whole = {
  name: "S",
  case_types: [],
  streams: [],
  steps: [],
  teams: [
    { id: "clerks", name: "Clerks", rate: 20, roster: [row("08:00", 3)] },
    { id: "rooms", name: "Rooms", kind: "places", size: 2 },
  ],
  levers: [{ id: "pay", name: "Pay", sets: ["/teams/clerks/rate"] }],
  scenarios: [{ id: "dear", name: "Dear", levers: { pay: 30 }, changes: [] }],
  run: RUN,
} as unknown as StudyDocument;
const fresh: Scenario = { id: "found", name: "Found", levers: {}, changes: [] };

const made = (changed: Parameters<typeof scenariosWith>[2], searched = "") => {
  const scenarios = scenariosWith(whole, fresh, changed, searched);
  const study = { ...whole, scenarios };
  return applied(study, scenarios.at(-1) as Scenario).document.teams;
};

it("has the rosters that were found, and nothing else changed", () => {
  const rows = [row("08:00", 1), row("11:30", 2)];
  const [clerks, rooms] = made({ teams: { clerks: { roster: rows } }, levers: {} });
  expect(clerks).toEqual({ id: "clerks", name: "Clerks", rate: 20, roster: rows });
  expect(rooms).toEqual(whole.teams[1]);
});

it("has the number of places that was found, and none of a team that is not needed", () => {
  const [clerks, rooms] = made({ teams: { clerks: { roster: [] }, rooms: { size: 5 } }, levers: {} });
  expect(clerks).toEqual({ id: "clerks", name: "Clerks", rate: 20, size: 0 });
  expect(rooms?.size).toBe(5);
});

it("stands on the scenario that was searched", () => {
  const [clerks] = made({ teams: { clerks: { roster: [row("09:00", 2)] } }, levers: {} }, "dear");
  expect(clerks).toMatchObject({ rate: 30, roster: [row("09:00", 2)] });
});

it("moves the levers that were found", () => {
  const [clerks] = made({ teams: {}, levers: { pay: 25 } });
  expect(clerks).toMatchObject({ rate: 25, roster: [row("08:00", 3)] });
});
