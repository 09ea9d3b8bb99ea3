import { expect, it } from "vitest";
import { laidOut, readCells, readNumber } from "./gridText";

const area = { top: 0, left: 0, bottom: 0, right: 0 };
const cells = (rows: number, columns: number) =>
  Array.from({ length: rows }, (_, row) => Array.from({ length: columns }, (_, column) => String(row * columns + column)));

it.each([
  ["1,5", 1.5],
  ["1.234,5", 1234.5],
  ["1,234.5", 1234.5],
  ["1 234", 1234],
  ["-2.5", -2.5],
  [".5", 0.5],
])("reads %s as a number", (text, number) => {
  expect(readNumber(text)).toEqual({ value: number });
});

it.each(["", "many", "1.2.3", "3 min"])("does not take %s for a number", (text) => {
  expect(readNumber(text)).toHaveProperty("problem");
});

it("reads what a spreadsheet copies, with either end of line", () => {
  expect(readCells("1,5\t2\r\n3\t4\r\n")).toEqual([
    ["1,5", "2"],
    ["3", "4"],
  ]);
  expect(readCells("1;2\n3;4")).toEqual([
    ["1", "2"],
    ["3", "4"],
  ]);
});

it("lays out a week of quarter hours either way round", () => {
  const upright = laidOut(cells(96, 7), area, 96, 7);
  const lying = laidOut(cells(7, 96), area, 96, 7);
  expect(upright).toHaveLength(672);
  expect(lying).toHaveLength(672);
  expect(typeof lying !== "string" && lying[1]).toEqual({ row: 0, column: 1, text: "96" });
});

it("says precisely what does not fit, and puts nothing in", () => {
  expect(laidOut(cells(2, 9), area, 96, 7)).toHaveLength(18);
  expect(laidOut(cells(10, 9), area, 96, 7)).toMatch(/9 columns were copied, and from here on there are 7/);
  expect(laidOut(cells(10, 7), { ...area, top: 90, bottom: 90 }, 96, 7)).toMatch(/10 rows were copied, and from here on there are 6/);
});

it("fills the whole selection with one copied cell", () => {
  expect(laidOut([["4"]], { top: 1, left: 2, bottom: 2, right: 3 }, 96, 7)).toEqual([
    { row: 1, column: 2, text: "4" },
    { row: 1, column: 3, text: "4" },
    { row: 2, column: 2, text: "4" },
    { row: 2, column: 3, text: "4" },
  ]);
});
