import type { Parsed } from "../study/values/durations";

/** Reads what a spreadsheet puts on the clipboard: rows by lines, cells by tabs, or by semicolons. */
export function readCells(text: string): string[][] {
  const lines = text.replace(/\r\n?/g, "\n").replace(/\n+$/, "").split("\n");
  const separator = text.includes("\t") ? "\t" : text.includes(";") ? ";" : "\t";
  return lines.map((line) => line.split(separator).map((cell) => cell.trim()));
}

export function writeCells(cells: string[][]): string {
  return cells.map((row) => row.map((cell) => cell.replaceAll(/[\t\n]/g, " ")).join("\t")).join("\n");
}

/** Reads a number with a decimal point or comma, with or without marks between thousands. */
export function readNumber(text: string): Parsed<number> {
  const typed = text.replaceAll(/[\s\u00a0\u202f']/g, "");
  const [comma, point] = [typed.lastIndexOf(","), typed.lastIndexOf(".")];
  const plain =
    comma > point ? typed.replaceAll(".", "").replace(",", ".") : point > comma && comma >= 0 ? typed.replaceAll(",", "") : typed;
  const isNumber = /^[-+]?(\d+\.?\d*|\.\d+)(e[-+]?\d+)?$/i.test(plain);
  return isNumber ? { value: Number(plain) } : { problem: `“${text.trim()}” is not a number.` };
}

/** Turns rows into columns. */
function transposed(cells: string[][]): string[][] {
  const width = Math.max(...cells.map((row) => row.length));
  return Array.from({ length: width }, (_, column) => cells.map((row) => row[column] ?? ""));
}

export interface Put {
  row: number;
  column: number;
  text: string;
}

export interface Area {
  top: number;
  left: number;
  bottom: number;
  right: number;
}

/** Lays pasted cells out from a corner; one cell fills the whole area. Says what is wrong where they do not fit. */
export function laidOut(cells: string[][], area: Area, rows: number, columns: number): Put[] | string {
  if (cells.length === 1 && cells[0]?.length === 1) return filled(area, () => cells[0]?.[0] ?? "");
  const [high, wide] = [cells.length, Math.max(...cells.map((row) => row.length))];
  const [roomDown, roomRight] = [rows - area.top, columns - area.left];
  const fitsTurned = high > 1 && wide > 1 && high <= roomRight && wide <= roomDown;
  if ((high > roomDown || wide > roomRight) && fitsTurned) return laidOut(transposed(cells), area, rows, columns);
  if (wide > roomRight) return `${wide} columns ${tooMany(roomRight)} further left.`;
  if (high > roomDown) return `${high} rows ${tooMany(roomDown)} higher up.`;
  return cells.flatMap((line, row) => line.map((text, column) => ({ row: area.top + row, column: area.left + column, text })));
}

const tooMany = (room: number) =>
  `were copied, and from here on there ${room === 1 ? "is one" : `are ${room}`}. Nothing was put in: copy fewer, or begin`;

export function filled(area: Area, text: (row: number, column: number) => string): Put[] {
  const puts: Put[] = [];
  for (let row = area.top; row <= area.bottom; row++)
    for (let column = area.left; column <= area.right; column++) puts.push({ row, column, text: text(row, column) });
  return puts;
}
