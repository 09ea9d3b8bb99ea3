import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import type { Schemas } from "../../api/client";
import { passing, sharesOf, stepById } from "./flow";
import { filledIn } from "./types";

interface Case {
  name: string;
  study: Schemas["StudyDocument"];
  streams: Record<string, string[]>;
  steps: Record<string, string[]>;
  shares: Record<string, Record<string, number[]>>;
}

const CASES = JSON.parse(readFileSync("../tests/shared/flow.json", "utf-8")) as Case[];

it.each(CASES)("$name", ({ study, streams, steps, shares }) => {
  const flow = filledIn(study);
  const found = passing(flow);
  expect(Object.fromEntries(found.streams)).toEqual(streams);
  expect(Object.fromEntries(found.steps)).toEqual(steps);
  for (const [id, byType] of Object.entries(shares)) {
    const step = stepById(flow, id);
    for (const [type, expected] of Object.entries(byType)) expect(step && sharesOf(step, type), `${id} for ${type}`).toEqual(expected);
  }
});
