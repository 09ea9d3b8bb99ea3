import { expect, it } from "vitest";
import { todayRow } from "./rows";

const shift = (from: string, people: number) => ({ from, people });
const TODAY = [shift("08:00", 3), shift("10:00", 1), shift("13:00", 2)];
const of = (rows: typeof TODAY) => rows.map((_, n) => todayRow(rows, TODAY, n));

it("is itself where nothing changed, also after one before it was taken away", () => {
  expect(of(TODAY)).toEqual(TODAY);
  expect(of(TODAY.slice(1))).toEqual(TODAY.slice(1));
});

it("is what it was made of, whichever others went or came", () => {
  expect(of([shift("08:00", 3), shift("10:00", 2), shift("13:00", 2)])).toEqual(TODAY);
  expect(of([shift("10:00", 1), shift("13:00", 5)])).toEqual([TODAY[1], TODAY[0]]);
});

it("is nothing where it is new", () => {
  expect(of([...TODAY, shift("16:00", 1)])).toEqual([...TODAY, null]);
});
