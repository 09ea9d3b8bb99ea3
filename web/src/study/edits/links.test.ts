import { beforeEach, expect, it } from "vitest";
import { passing, shareSum, stepById, stepsAhead } from "../document/flow";
import { filledIn, linksOf, type Step, type StudyDocument } from "../document/types";
import { addLink, deleteStep, freshId, furtherOn, partBy, removeLink } from "./links";
import { addCaseType } from "./making";
import { branch, insertAfter, insertFirst, insertOnly } from "./steps";

let study: StudyDocument;

beforeEach(() => {
  study = filledIn({
    name: "Hall",
    case_types: [
      { id: "a", name: "A" },
      { id: "b", name: "B" },
    ],
    streams: [
      {
        id: "in",
        name: "In",
        kind: "random",
        gap: "1 min",
        mix: [
          { type: "a", share: 0.5 },
          { type: "b", share: 0.5 },
        ],
        to: "first",
      },
    ],
    steps: [
      {
        id: "first",
        name: "First",
        kind: "serve",
        work: "1 min",
        next: [
          { to: "left", share_by_type: { a: 1, b: 0.25 } },
          { to: "out", share_by_type: { a: 0, b: 0.75 } },
        ],
      },
      {
        id: "left",
        name: "Left",
        kind: "delay",
        time: "1 min",
        next: [
          { to: "first", share: 0.2 },
          { to: "out", share: 0.8 },
        ],
      },
      { id: "out", name: "Out", kind: "exit" },
    ],
    teams: [{ id: "staff", name: "Staff" }],
  });
});

const ways = (id: string) => linksOf(stepById(study, id) as Step).map((link) => link.to);
const whole = () => {
  for (const step of study.steps) {
    if (step.kind === "exit") continue;
    for (const type of passing(study).steps.get(step.id) ?? []) expect(shareSum(step, type)).toBeCloseTo(1, 9);
  }
};

it("begins a flow where there is none, and leads the streams there", () => {
  study.steps = [];
  const first = insertOnly(study);
  const [exit] = ways(first);
  expect(stepById(study, exit as string)?.kind).toBe("exit");
  expect(study.streams[0]?.to).toBe(first);
});

it("offers one more way to the nearest step past those it leads to, else anywhere, else nowhere", () => {
  const step = (id: string) => stepById(study, id) as Step;
  const check = insertAfter(study, "left", "serve") as string;
  expect(furtherOn(study, step("left"))).toBe("first");
  expect(furtherOn(study, step("first"))).toBe(check);
  expect(furtherOn(study, step(check))).toBe("left");
  addLink(study, step(check), "left");
  expect(furtherOn(study, step(check))).toBeUndefined();
});

it("tells what comes after a step, the nearest first, also round a loop", () => {
  expect(stepsAhead(study, "first").map((step) => step.id)).toEqual(["left", "out"]);
  expect(stepsAhead(study, "left").map((step) => step.id)).toEqual(["first", "out"]);
  expect(stepsAhead(study, "out")).toEqual([]);
});

it("inserts a step that everything passes", () => {
  const id = insertAfter(study, "left", "serve") as string;
  expect(ways("left")).toEqual([id]);
  expect(ways(id)).toEqual(["first", "out"]);
  whole();
  expect(insertAfter(study, "out", "serve")).toBeNull();
});

it("inserts at the beginning of a stream", () => {
  const id = insertFirst(study, "in", "delay") as string;
  expect(study.streams[0]?.to).toBe(id);
  expect(ways(id)).toEqual(["first"]);
});

it("lets ways part and leaves the shares whole", () => {
  const id = branch(study, "left", "serve") as string;
  expect(ways("left")).toEqual(["first", "out", id]);
  whole();
});

it("closes the gap when a step is deleted, its shares passed on", () => {
  expect(deleteStep(study, "left")).toBeNull();
  expect(ways("first")).toEqual(["out"]);
  whole();
});

it("deletes the first step and leads the stream on", () => {
  expect(deleteStep(study, "first")).toBeNull();
  expect(study.streams[0]?.to).toBe("left");
  expect(ways("left")).toEqual(["out"]);
  whole();
});

it("does not delete an exit that cases still come to", () => {
  expect(deleteStep(study, "out")).toMatch(/Lead them elsewhere/);
  expect(study.steps).toHaveLength(3);
});

it("gives the last way everything", () => {
  const step = stepById(study, "left") as Step;
  addLink(study, step, "left");
  removeLink(step, 2);
  removeLink(step, 0);
  expect(linksOf(step)).toEqual([{ to: "out" }]);
});

it("switches shares between all and each type", () => {
  const step = stepById(study, "left") as Step;
  partBy(study, step, "by_type");
  expect(linksOf(step)[0]).toEqual({ to: "first", share_by_type: { a: 0.2, b: 0.2 } });
  partBy(study, step, "same");
  expect(linksOf(step)[1]).toEqual({ to: "out", share: 0.8 });
});

it("gives a new case type the shares of the first", () => {
  const added = addCaseType(study, "Cé type");
  expect(added.id).toMatch(/^[a-z][a-z0-9-]*$/);
  expect(linksOf(study.steps[0] as Step)[0]?.share_by_type).toEqual({ a: 1, b: 0.25, [added.id]: 1 });
});

it("makes ids that are free and well formed", () => {
  expect(freshId("New step", [{ id: "new-step" }, { id: "new-step-2" }])).toBe("new-step-3");
  expect(freshId("42 Äpfel!", [])).toMatch(/^[a-z][a-z0-9-]*$/);
  expect(freshId("§§", [])).toBe("item");
});
