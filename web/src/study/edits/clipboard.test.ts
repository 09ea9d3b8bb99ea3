import { readFileSync } from "node:fs";
import { beforeEach, expect, it } from "vitest";
import { passing, shareSum, sideWays, stepById } from "../document/flow";
import { filledIn, linksOf, type Serve, type Step, type StudyDocument } from "../document/types";
import { asText, fromText, moveAfter, pasteAfter, stretchOf } from "./clipboard";
import { deleteStep } from "./links";
import { mergeCaseTypes } from "./removing";
import { type AddedKind, CONVERTIBLE, drawWay, insertAfter, insertBefore, turnInto } from "./steps";

let study: StudyDocument;

beforeEach(() => {
  study = filledIn(JSON.parse(readFileSync("../demo/animal-clinic.json", "utf-8")));
});

const ways = (id: string) => linksOf(stepById(study, id) as Step).map((link) => link.to);
const dangling = () => {
  const known = new Set(study.steps.map((step) => step.id));
  return study.steps.flatMap((step) => linksOf(step).map((link) => link.to)).filter((to) => !known.has(to));
};
const sharesAreWhole = () => {
  for (const step of study.steps) {
    const links = linksOf(step);
    if (links.length < 2 || links.some((link) => link.when) || step.kind === "fork") continue;
    for (const type of passing(study).steps.get(step.id) ?? []) expect(shareSum(step, type)).toBeCloseTo(1, 9);
  }
};

it("copies a stretch with all its settings under new ids, and what is inside refers to the copies", () => {
  const stretch = fromText(asText(stretchOf(study, ["consultation", "which-tests", "blood", "laboratory", "treatment", "discharge"])));
  const ids = pasteAfter(study, stretch ?? { steps: [] }, { step: "payment" });
  expect(ids).toHaveLength(6);
  expect(ways("payment")).toEqual([ids[0]]);
  const copy = stepById(study, ids[0] as string) as Serve;
  const original = stepById(study, "consultation") as Serve;
  expect(copy.work).toEqual(original.work);
  expect(copy.needs?.map((need) => [need.team, need.keep_until])).toEqual([
    ["rooms", ids[5]],
    ["vets", undefined],
  ]);
  const treatment = stepById(study, ids[4] as string) as Serve;
  expect(treatment.needs?.[0]?.same_as).toBe(copy.needs?.[1]?.as);
  expect(copy.needs?.[1]?.as).not.toBe("vet");
  expect(ways(ids[5] as string)).toEqual(["home"]);
  expect(dangling()).toEqual([]);
  sharesAreWhole();
});

it("does not take other text for copied steps", () => {
  expect(fromText("12\t13")).toBeNull();
  expect(fromText('{"urban-queue-steps": [{"name": 3}]}')).toBeNull();
});

it("moves a step to after another and closes the gap", () => {
  expect(moveAfter(study, ["payment"], "reception")).toBeNull();
  expect(ways("discharge")).toEqual(["home"]);
  expect(ways("reception")).toEqual(["payment"]);
  expect(ways("payment")).toEqual(["triage", "consultation"]);
  expect(dangling()).toEqual([]);
  expect(moveAfter(study, ["payment"], "payment")).toMatch(/outside/);
  expect(moveAfter(study, ["payment"], "home")).toMatch(/exit/);
});

it.each(["serve", "delay", "signal", "choose", "fork", "gather", "scatter", "set"] satisfies AddedKind[])(
  "inserts a %s after and before, and takes it out again",
  (kind) => {
    const steps = study.steps.length;
    const after = insertAfter(study, "triage", kind) as string;
    expect(ways("triage")).toEqual([after]);
    const before = insertBefore(study, "payment", kind) as string;
    expect(ways("discharge")).toEqual([before]);
    expect(dangling()).toEqual([]);
    sharesAreWhole();
    expect(deleteStep(study, after)).toBeNull();
    expect(deleteStep(study, before)).toBeNull();
    expect(dangling()).toEqual([]);
    sharesAreWhole();
    if (kind !== "fork") expect(study.steps).toHaveLength(steps);
  },
);

it("leads side ways over a step put before their end, and back when it is deleted", () => {
  const kept = JSON.stringify([sideWays(study)]);
  const [left, called] = [insertBefore(study, "left", "serve") as string, insertBefore(study, "second-vet", "serve") as string];
  expect(sideWays(study)).toEqual([
    { from: "consultation", to: left },
    { from: "triage", to: called },
  ]);
  expect([ways(left), ways(called)]).toEqual([["left"], ["second-vet"]]);
  for (const id of [left, called]) expect(deleteStep(study, id)).toBeNull();
  expect(JSON.stringify([sideWays(study)])).toBe(kept);
});

it("deletes a fork with its join, and not the join alone", () => {
  const fork = insertAfter(study, "payment", "fork") as string;
  const join = (stepById(study, fork) as Extract<Step, { kind: "fork" }>).join;
  expect(deleteStep(study, join)).toMatch(/both go/);
  expect(deleteStep(study, fork)).toBeNull();
  expect(stepById(study, join)).toBeUndefined();
  expect(dangling()).toEqual([]);
});

it("turns every kind that stands by itself into every other, and keeps name and ways", () => {
  for (const from of CONVERTIBLE) {
    for (const to of CONVERTIBLE) {
      turnInto(study, "laboratory", from);
      turnInto(study, "laboratory", to);
      const step = stepById(study, "laboratory") as Step;
      expect([step.kind, step.name, ways("laboratory")]).toEqual([to, "Laboratory", ["treatment"]]);
    }
  }
  turnInto(study, "blood", "delay");
  expect(stepById(study, "blood")).toMatchObject({ kind: "delay", time: "4 min", cost: 11 });
  turnInto(study, "home", "serve");
  expect(stepById(study, "home")?.kind).toBe("exit");
});

it("draws a way to a step that is there, and says why not", () => {
  expect(drawWay(study, "payment", "triage")).toBeNull();
  expect(ways("payment")).toEqual(["home", "triage"]);
  sharesAreWhole();
  expect(drawWay(study, "payment", "triage")).toMatch(/already/);
  expect(drawWay(study, "payment", "payment")).toMatch(/itself/);
  expect(drawWay(study, "home", "triage")).toMatch(/exit/);
});

it("merges case types with their shares", () => {
  for (const stream of study.streams)
    stream.mix = [
      { type: "illness", share: 0.75 },
      { type: "check-up", share: 0.25 },
    ];
  mergeCaseTypes(study, "illness", "check-up");
  expect(study.streams[0]?.mix).toEqual([{ type: "illness", share: 1 }]);
  expect(JSON.stringify(study)).not.toContain('"check-up"');
});
