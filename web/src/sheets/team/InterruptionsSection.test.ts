import { expect, it } from "vitest";
import { interruptionInWords } from "./InterruptionsSection";

const call = { name: "Call", after: { clock: { dist: "exponential", mean: "2 h" } }, length: "12 min", strikes: "each" } as const;

it("says in one sentence who is called away how often and for how long", () => {
  expect(interruptionInWords(call, "vets", 3)).toBe("Each of the 3 vets is called away about every 2 hours for about 12 minutes.");
  const fault = {
    ...call,
    after: { working: "90 min" },
    length: { dist: "uniform", low: "10 min", high: "30 min" },
    strikes: "team",
  } as const;
  expect(interruptionInWords(fault, "machines", 2)).toBe(
    "All of the 2 machines at once are called away after about 90 minutes at work for about 10–30 min.",
  );
  expect(interruptionInWords({ ...call, after: { cases: 20 } }, "porters", 1)).toBe(
    "The one in the team is called away after about 20 cases for about 12 minutes.",
  );
});
