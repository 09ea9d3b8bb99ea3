import { readFileSync } from "node:fs";
import { expect, it } from "vitest";
import { mayTake, passing, showsShares, sideWays, stepById } from "../document/flow";
import { filledIn, linksOf, type Step } from "../document/types";
import { ruleInWords, whenTaken } from "./rules";

const clinic = filledIn(JSON.parse(readFileSync("../demo/animal-clinic.json", "utf-8")));
const phone = filledIn(JSON.parse(readFileSync("../demo/phone-line.json", "utf-8")));
const step = (id: string) => stepById(clinic, id) as Step;

it("says in words when each way is taken", () => {
  const tests = step("which-tests");
  expect(linksOf(tests).map((link) => whenTaken(tests, link, clinic))).toEqual(["if Blood test is yes,", "otherwise"]);
  const rule = {
    any: [
      { fact: "line:triage", is: "over", value: 3 },
      {
        all: [
          { fact: "type", is: "in", value: ["illness", "emergency"] },
          { fact: "free:vets", is: "at-least", value: 1 },
        ],
      },
    ],
  } as const;
  expect(ruleInWords(rule as never, clinic)).toBe(
    "the line at Triage is over 3 or (the case type is one of Illness or Emergency and the number of free Vets is at least 1)",
  );
});

it("lets every type take ways by rule, in turn and in parallel", () => {
  const tests = step("which-tests");
  expect(showsShares(tests)).toBe(false);
  expect(mayTake(tests, "illness")).toEqual(linksOf(tests).map(() => true));
  const reception = step("reception");
  expect(mayTake(reception, "illness")).toEqual([true, false]);
  expect(passing(clinic).steps.get("home")).toEqual(["check-up", "illness", "emergency"]);
});

it("knows where cases go aside", () => {
  expect(sideWays(clinic)).toEqual([
    { from: "consultation", to: "left" },
    { from: "triage", to: "second-vet" },
  ]);
  expect(passing(phone).steps.get("call-back")).toEqual(["lost", "card", "complaint"]);
});
