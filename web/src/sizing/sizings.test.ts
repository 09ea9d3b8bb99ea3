import { expect, it } from "vitest";
import type { StudyDocument, Team } from "../study/document/types";
import { RUN } from "../study/document/types";
import { freshSizing, limitsOf } from "./sizings";

const days: ["mon", "tue"] = ["mon", "tue"];
const lunch = { after: "4 h", length: "45 min" };
const clerks: Team = {
  id: "clerks",
  name: "Clerks",
  roster: [
    { days, from: "08:00", to: "16:00", people: 3, breaks: [lunch] },
    { days, from: "10:00", to: "17:00", people: 1 },
  ],
};

it("allows shifts like those of today and shorter ones within the same hours", () => {
  const { people, shifts } = limitsOf(clerks);
  expect(people).toEqual({ low: 1, high: 8 });
  expect(shifts).toHaveLength(1);
  expect(shifts?.[0]).toMatchObject({ lengths: ["4 h", "6 h", "7 h", "8 h"], from: "08:00", to: "13:00", every: "30 min" });
  expect(shifts?.[0]?.breaks).toHaveLength(1);
});

it("lets those who are always there have usual shifts, without breaks", () => {
  const { people, shifts } = limitsOf({ id: "a", name: "A", size: 2 });
  expect(people).toEqual({ low: 1, high: 4 });
  expect(shifts?.[0]).toMatchObject({ lengths: ["4 h", "6 h", "8 h"], from: "08:00", to: "12:00", breaks: [] });
});

it("gives shifts that pass midnight starts within the day", () => {
  const night: Team = { id: "n", name: "N", roster: [{ days, from: "22:00", to: "06:00", people: 2 }] };
  expect(limitsOf(night).shifts?.[0]).toMatchObject({ from: "22:00", to: "23:30" });
});

it("gives places a number alone", () => {
  expect(limitsOf({ id: "r", name: "Rooms", kind: "places", size: 3 })).toEqual({ team: "r", people: { low: 1, high: 6 } });
});

it("is called after its teams, with an id that nothing else has", () => {
  const study = { teams: [clerks], case_types: [], streams: [], steps: [], run: RUN, name: "S" } as unknown as StudyDocument;
  const first = freshSizing(study, [clerks]);
  expect([first.id, first.name]).toEqual(["clerks", "Clerks"]);
  expect(freshSizing({ ...study, sizing: [first] }, [clerks]).id).toBe("clerks-2");
  const levers = [{ id: "pace", name: "Pace", sets: [] }];
  expect(freshSizing({ ...study, levers }, [])).toMatchObject({ name: "Levers", levers: ["pace"] });
});
