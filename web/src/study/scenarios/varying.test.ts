import { readFileSync } from "node:fs";
import { produce } from "immer";
import { expect, it } from "vitest";
import { filledIn, type StudyDocument } from "../document/types";
import type { Lever } from "./levers";
import { applied, type Scenario } from "./scenarios";
import {
  combinations,
  driveNoMore,
  driveToo,
  leversAt,
  makeArrivalsLever,
  makeFamily,
  makeLever,
  placeWords,
  readLike,
  readValues,
  removeLever,
  todayOf,
  writtenValues,
} from "./varying";

const phone = filledIn(JSON.parse(readFileSync(`${import.meta.dirname}/../../../../tests/flowcore/formats/2/phone-line.json`, "utf8")));
const lever = (study: StudyDocument, id: string) => study.levers?.find((each) => each.id === id) as Lever;

it("is made of a value, says where that is, and has what is there today", () => {
  let id = "";
  const study = produce({ ...phone, levers: [] as Lever[] }, (draft) => {
    id = makeLever(draft, "teams/agents/roster/0/people");
  });
  expect(lever(study, id)).toMatchObject({ sets: ["/teams/agents/roster/0/people"] });
  expect(lever(study, id).name).toMatch(/^Agents: shift \d\d:\d\d–\d\d:\d\d, people$/);
  expect(todayOf(study, lever(study, id))).toBe(phone.teams.find((team) => team.id === "agents")?.roster?.[0]?.people);
  expect(leversAt(study, "teams/agents/roster/0/people")).toHaveLength(1);
  expect(leversAt(study, "teams/agents/roster/1/people")).toHaveLength(0);
});

it.each([
  ["steps/lost-calls/line/max", "Lost property call: line, max"],
  ["streams/calls", "Calls: all that comes"],
])("says in words where %s is", (at, words) => {
  expect(placeWords(phone, at)).toBe(words);
});

it("drives more, and less again; several at once where several are edited at once", () => {
  const study = produce({ ...phone, levers: [] as Lever[] }, (draft) => {
    const id = makeLever(draft, "steps/lost-calls,card-calls/line/max");
    driveToo(draft.levers?.find((each) => each.id === id) as Lever, "steps/call-back/line/max");
    driveToo(draft.levers?.find((each) => each.id === id) as Lever, "steps/call-back/line/max");
    driveNoMore(draft.levers?.find((each) => each.id === id) as Lever, "steps/lost-calls/line/max");
  });
  expect(study.levers?.[0]?.sets).toEqual(["/steps/card-calls/line/max", "/steps/call-back/line/max"]);
});

it("multiplies all arrivals", () => {
  const study = produce(
    { ...phone, levers: [] as Lever[], scenarios: [{ id: "busy", name: "Busy", levers: { "all-arrivals": 2 } }] },
    (draft) => {
      makeArrivalsLever(draft);
    },
  );
  const total = (of: StudyDocument) => of.streams.flatMap((each) => (each.kind === "profile" ? Object.values(each.week).flat() : []));
  const sum = (of: StudyDocument) => total(of).reduce((all: number, one) => all + (one ?? 0), 0);
  expect(sum(applied(study, study.scenarios?.[0] as Scenario).document)).toBeCloseTo(2 * sum(phone), 6);
});

it.each([
  [3, "2, 4, 5", { values: [2, 4, 5] }],
  [3, "2 to 8 by 2", { values: [], low: 2, high: 8, step: 2 }],
  [3, "2 to 8", { values: [], low: 2, high: 8, step: 1 }],
  ["3 min", "2 min; 4 min", { values: ["2 min", "4 min"] }],
  ["3 min", "2 min to 4 min by 30 s", { low: "2 min", high: "4 min", step: "30 s" }],
  ["together", "in-turn, together", { values: ["in-turn", "together"] }],
  [3, "", { values: [] }],
])("reads values like %j from “%s”", (today, text, found) => {
  const read = readValues(today, text);
  expect(read).toMatchObject({ value: found });
  const again = { id: "x", name: "X", ...(read as { value: object }).value } as Lever;
  expect(readValues(today, writtenValues(again))).toEqual(read);
});

it.each([
  [3, "many"],
  ["3 min", "4"],
  [3, "2 to many"],
])("refuses what is not like %j: “%s”", (today, text) => {
  expect(readValues(today, text)).toHaveProperty("problem");
});

it("reads an interval of time only where a time stands today", () => {
  expect(readLike("3 min", "4 min")).toEqual({ value: "4 min" });
  expect(readLike({ dist: "uniform", low: "1 min", high: "2 min" }, "3–9 min")).toMatchObject({ value: { low: "3 min", high: "9 min" } });
  expect(readLike(true, "perhaps")).toHaveProperty("problem");
});

it("makes a scenario of every combination, but for today and for those that are there", () => {
  const two: Lever[] = [
    { id: "a", name: "A", sets: ["/teams/agents/roster/0/people"], values: [2, 3] },
    { id: "b", name: "B", sets: ["/teams/agents/roster/1/people"], low: 1, high: 3, step: 1 },
  ];
  expect(combinations(two)).toHaveLength(6);
  const today = two.map((each) => todayOf(phone, each));
  const there = { id: "there", name: "There", levers: { b: 1, a: 2 } };
  const study = produce({ ...phone, levers: two, scenarios: [there] }, (draft) => void makeFamily(draft, two));
  const made = study.scenarios?.slice(1) ?? [];
  const isToday = combinations(two).some((set) => set.a === today[0] && set.b === today[1]);
  expect(made).toHaveLength(6 - 1 - Number(isToday));
  expect(made[0]?.name).toBe("A 2, B 2");
  expect(produce(study, (draft) => void makeFamily(draft, two)).scenarios).toHaveLength(made.length + 1);
  expect(produce(study, (draft) => removeLever(draft, "a")).scenarios?.every(({ levers }) => !("a" in (levers ?? {})))).toBe(true);
});
