import { expect, it } from "vitest";
import { filledIn, type Step } from "../study/document/types";
import { detailOf } from "./details";
import type { Stop } from "./types";

type Clears = Extract<Step, { kind: "signal" }>["clears"];

const told = (clears: Clears) => {
  const study = filledIn({
    name: "Letters",
    steps: [
      { id: "waits", name: "Waits", kind: "signal", clears, next: [{ to: "answer" }] },
      { id: "answer", name: "Answer", kind: "delay", time: "1 d", next: [{ to: "out" }] },
      { id: "out", name: "Out", kind: "exit" },
    ],
  });
  return detailOf(study, { id: "waits", kind: "signal" } as Stop);
};

it.each<[Clears, string[]]>([
  [{ every: "15 min" }, ["every 15 min"]],
  [{ at: ["09:00", "12:00"] }, ["at 09:00, 12:00"]],
  [{ at: ["09:00", "12:00", "15:00"] }, ["3 times a day"]],
  [{ after_step: "answer" }, ["after Answer"]],
  [{ waiting: 4 }, ["when 4 wait"]],
  [{ message: "answer" }, ["message from Answer"]],
  [{ message: "answer", also: ["answer"] }, ["message from Answer or Answer"]],
  [undefined, []],
])("says when a signal clears: %j", (clears, words) => {
  expect(told(clears)).toEqual(words);
});
