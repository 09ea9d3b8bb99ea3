import { expect, it } from "vitest";
import { inWords } from "../document/parts";
import { idOf, readId } from "./ids";

it.each([
  ["First aid", "first-aid"],
  ["  Spanish / French ", "spanish-french"],
  ["2nd level", "nd-level"],
  ["x".repeat(90), "x".repeat(64)],
  [`${"x".repeat(63)} y`, "x".repeat(63)],
])("keeps %s as %s", (typed, id) => {
  expect(readId(typed)).toEqual({ value: id });
  expect(idOf(inWords(id))).toBe(id);
});

it("asks for a name where nothing is left", () => {
  expect(readId("12 !")).toEqual({ problem: "Write a short name that begins with a letter." });
});
