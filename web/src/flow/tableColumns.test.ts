import { beforeEach, describe, expect, it } from "vitest";
import { linksOf, RUN, type Serve, type Step, type StudyDocument } from "../study/document/types";
import { putShare, SETTINGS, shareText, timesByType, wayRows } from "./tableColumns";

let study: StudyDocument;

beforeEach(() => {
  study = {
    name: "Surgery",
    case_types: [
      { id: "check", name: "Check" },
      { id: "acute", name: "Acute" },
    ],
    streams: [{ id: "door", name: "Door", kind: "random", gap: "5 min", to: "desk" }],
    steps: [
      {
        id: "desk",
        name: "Desk",
        kind: "serve",
        work: "2 min",
        needs: [{ team: "clerks", as: "clerk" }],
        next: [
          { to: "room", share: 0.7 },
          { to: "out", share: 0.3 },
        ],
      },
      {
        id: "room",
        name: "Room",
        kind: "serve",
        work: { by_type: { acute: "9 min" }, otherwise: "4 min" },
        needs: [{ skill: "blood", prefer: ["nurses"] }],
        next: [{ to: "out" }],
      },
      { id: "rest", name: "Rest", kind: "delay", time: "10 min", next: [{ to: "out" }] },
      { id: "out", name: "Out", kind: "exit" },
    ],
    teams: [
      { id: "clerks", name: "Clerks", size: 2 },
      { id: "nurses", name: "Nurses", size: 2, skills: ["blood"] },
      { id: "both", name: "Doctors and interns", size: 1 },
    ],
    skills: [{ id: "blood", name: "Taking blood" }],
    calendars: [{ id: "hours", name: "Hours", weekly: [{ days: ["mon"], from: "09:00", to: "17:00" }] }],
    run: RUN,
  } as StudyDocument;
});

const step = (id: string) => study.steps.find((each) => each.id === id) as Serve;
const column = (id: string) => SETTINGS.find((each) => each.id === id) as (typeof SETTINGS)[number];
const put = (id: string, on: string, text: string) => column(id).put(study, step(on), text);
const text = (id: string, on: string) => column(id).text(study, step(on));

describe("who it needs", () => {
  it.each([
    ["Nurses", [{ team: "nurses" }]],
    [
      "2 nurses + Clerks",
      [
        { team: "nurses", count: 2 },
        { team: "clerks", as: "clerk" },
      ],
    ],
    ["Nurses, Clerks", [{ team: "nurses" }, { team: "clerks", as: "clerk" }]],
    ["clerks and 3 Doctors and interns", null],
    ["3 Doctors and interns", [{ team: "both", count: 3 }]],
    ["skill blood", [{ skill: "blood" }]],
    ["", []],
  ])("reads “%s”", (typed, needs) => {
    const problem = put("needs", "desk", typed);
    if (needs === null) expect(problem).toMatch(/There is no team/);
    else expect(step("desk").needs).toEqual(needs);
  });

  it("names what is not known and keeps what was there", () => {
    expect(put("needs", "desk", "Cooks")).toBe("Desk: There is no team “Cooks”. Known are Clerks, Nurses, Doctors and interns.");
    expect(put("needs", "desk", "skill song")).toBe("Desk: no team has the skill “song”.");
    expect(step("desk").needs).toEqual([{ team: "clerks", as: "clerk" }]);
  });

  it("shows a skill by its name, and leaves what is preferred where nothing else is typed", () => {
    expect(text("needs", "room")).toBe("skill Taking blood");
    expect(put("needs", "room", "skill taking blood")).toBeNull();
    expect(step("room").needs).toEqual([{ skill: "blood", prefer: ["nurses"] }]);
  });
});

describe("where they go", () => {
  it("shows and reads shares, also with a decimal comma", () => {
    expect(text("next", "desk")).toBe("Room 70 %, Out 30 %");
    expect(put("next", "desk", "Room 33,5 %, Rest 66.5 %")).toBeNull();
    expect(step("desk").next).toEqual([
      { to: "room", share: 0.335 },
      { to: "rest", share: 0.665 },
    ]);
  });

  it("takes one way for all, and asks for shares where there are several", () => {
    expect(put("next", "desk", "Rest")).toBeNull();
    expect(step("desk").next).toEqual([{ to: "rest" }]);
    expect(put("next", "desk", "Rest, Out")).toMatch(/write the share behind each way/);
    expect(put("next", "desk", "Nowhere 5 %")).toMatch(/There is no step “Nowhere”/);
  });

  it("parts by case type", () => {
    const [first, second] = wayRows(study);
    expect([first?.label, shareText(study, first as never, "acute")]).toEqual(["Desk → Room", "70 %"]);
    expect(putShare(study, second as never, "acute", "55,5 %")).toBeNull();
    expect(linksOf(study.steps[0] as Step)[1]).toEqual({ to: "out", share_by_type: { check: 0.3, acute: 0.555 } });
    expect(putShare(study, first as never, "acute", "155")).toMatch(/from 0 to 100 %/);
    expect(putShare(study, first as never, "acute", "much")).toMatch(/not a number/);
  });
});

describe("times by case type", () => {
  const [check, acute] = [0, 1].map((n) => () => timesByType(study)[n] as (typeof SETTINGS)[number]);

  it("shows the time of a type or the one for all", () => {
    expect([check?.().text(study, step("room")), acute?.().text(study, step("room"))]).toEqual(["4 min", "9 min"]);
    expect(check?.().text(study, step("out"))).toBeNull();
  });

  it("gives a type a time of its own and takes it back", () => {
    expect(check?.().put(study, step("desk"), "3–5 min")).toBeNull();
    expect(step("desk").work).toEqual({ by_type: { check: { dist: "uniform", low: "3 min", high: "5 min" } }, otherwise: "2 min" });
    expect(check?.().put(study, step("desk"), "")).toBeNull();
    expect(step("desk").work).toBe("2 min");
    expect(check?.().put(study, step("desk"), "5")).toBe("Desk, Check: “5” has no unit. Write 5 min, 5 s or 5 h.");
  });
});

describe("the other settings", () => {
  it.each([
    ["name", "desk", " Counter ", (found: Serve) => found.name, "Counter"],
    ["work", "desk", "4 ± 2 min", (found: Serve) => found.work, { dist: "lognormal", mean: "4 min", sd: "2 min" }],
    ["discipline", "desk", "By priority", (found: Serve) => found.line?.discipline, "priority"],
    ["max", "desk", "12", (found: Serve) => found.line?.max, 12],
    ["patience", "desk", "about 20 min", (found: Serve) => found.line?.patience, { dist: "exponential", mean: "20 min" }],
    ["gives_up_to", "desk", "out", (found: Serve) => found.line?.gives_up_to, "out"],
    ["open", "desk", "hours", (found: Serve) => found.open, "hours"],
    ["cost", "desk", "3,50", (found: Serve) => found.cost, 3.5],
  ] as const)("%s is read, and an empty cell clears it", (id, on, typed, found, value) => {
    expect(put(id, on, typed)).toBeNull();
    expect(found(step(on))).toEqual(value);
    if (id === "name" || id === "work") expect(put(id, on, "")).not.toBeNull();
    else {
      expect(put(id, on, "")).toBeNull();
      expect(found(step(on))).toBeUndefined();
    }
  });

  it.each([
    ["kind", "desk", "exit", /cannot become “exit”/],
    ["discipline", "desk", "as they like", /no order of a line.*by priority/],
    ["max", "desk", "1.5", /whole number/],
    ["patience", "desk", "soon", /not a time|not a duration/],
    ["gives_up_to", "desk", "Nowhere", /no step “Nowhere”/],
    ["open", "desk", "Never", /no calendar “Never”. Known are Hours/],
    ["cost", "desk", "-1", /not below zero/],
  ] as const)("%s says what is wrong with “%s %s”", (id, on, typed, problem) => {
    expect(put(id, on, typed)).toMatch(problem);
  });

  it("turns a step into another kind", () => {
    expect(put("kind", "desk", "delay")).toBeNull();
    expect(study.steps[0]).toMatchObject({ kind: "delay", time: "2 min" });
  });

  it("has nothing to fill in where a kind has no such setting", () => {
    expect(SETTINGS.filter((each) => each.text(study, study.steps[3] as Step) === null).map((each) => each.id)).toEqual([
      "work",
      "needs",
      "discipline",
      "max",
      "patience",
      "gives_up_to",
      "next",
      "open",
      "cost",
    ]);
  });
});
