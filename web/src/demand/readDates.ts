import Papa from "papaparse";
import type { Schemas } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { parseTime } from "../study/values/days";
import { readNumber } from "../ui/gridText";

type Arrival = Schemas["DatedArrival"];

/** What a column of a file of dates holds. */
export type Meaning = "moment" | "date" | "time" | "type" | "nothing" | `trait:${string}`;

export interface DatesFile {
  name: string;
  /** The names of the columns; numbered where the file has none. */
  columns: string[];
  rows: string[][];
  /** The line of the file on which the first row stands. */
  firstLine: number;
}

export interface BadRow {
  line: number;
  text: string;
  reason: string;
}

export interface ReadDates {
  arrivals: Arrival[];
  bad: BadRow[];
  /** Case types that the file names and the study does not have. */
  unknownTypes: string[];
}

/** Reads the bytes of a text file: UTF-8, or the older Western encoding where it is not that. */
export function decoded(bytes: ArrayBuffer): string {
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

/** Takes a file with commas, semicolons or tabs apart, and finds out whether its first row names the columns. */
export function readFile(name: string, text: string): DatesFile {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ""), { skipEmptyLines: false, delimitersToGuess: [";", ",", "\t", "|"] });
  const rows = data.map((row) => row.map((cell) => cell.trim()));
  while (rows.length > 0 && rows.at(-1)?.every((cell) => cell === "")) rows.pop();
  const [head = [], ...rest] = rows;
  const named = head.length > 0 && !head.some((cell) => inEitherOrder(cell) !== null || "value" in readNumber(cell));
  const width = Math.max(0, ...rows.slice(0, 100).map((row) => row.length));
  const columns = Array.from({ length: width }, (_, n) => (named && head[n]) || `Column ${n + 1}`);
  return { name, columns, rows: named ? rest : rows, firstLine: named ? 2 : 1 };
}

const LOOKED_AT = 200;
const MOSTLY = 0.6;

/** What each column holds, as far as its name and its first rows tell. */
export function recognised(file: DatesFile, study: StudyDocument): Meaning[] {
  const sample = file.rows.slice(0, LOOKED_AT);
  const share = (column: number, test: (cell: string) => boolean) => {
    const cells = sample.map((row) => row[column] ?? "").filter(Boolean);
    return cells.length > 0 && cells.filter(test).length / cells.length >= MOSTLY;
  };
  const types = new Set(study.case_types.flatMap((type) => [type.id, type.name.toLowerCase()]));
  const meanings = file.columns.map((name, column): Meaning => {
    if (share(column, (cell) => inEitherOrder(cell)?.includes("T") ?? false)) return "moment";
    if (share(column, (cell) => inEitherOrder(cell) !== null)) return "date";
    if (share(column, (cell) => /^\d{1,2}:\d\d/.test(cell))) return "time";
    if (share(column, (cell) => types.has(cell.toLowerCase())) || /^(case )?type$/i.test(name)) return "type";
    const trait = study.traits?.find((each) => each.id === name.toLowerCase() || each.name.toLowerCase() === name.toLowerCase());
    return trait ? `trait:${trait.id}` : "nothing";
  });
  return meanings.map((meaning, n) => (meaning !== "nothing" && meanings.indexOf(meaning) < n ? "nothing" : meaning));
}

/** Which of day and month stands first in dates with slashes, or null where the file does not tell. */
export type DateOrder = "day-first" | "month-first";

export function orderOf(file: DatesFile, meanings: Meaning[]): DateOrder | null {
  const column = meanings.findIndex((meaning) => meaning === "moment" || meaning === "date");
  let slashed = false;
  for (const row of file.rows) {
    const found = /^(\d{1,2})\/(\d{1,2})\/\d{2,4}/.exec(row[column] ?? "");
    if (!found) continue;
    slashed = true;
    if (Number(found[1]) > 12) return "day-first";
    if (Number(found[2]) > 12) return "month-first";
  }
  return slashed ? null : "day-first";
}

/** Reads every row; those that cannot be read are told with their line and the reason. */
export function readRows(file: DatesFile, meanings: Meaning[], order: DateOrder, study: StudyDocument): ReadDates {
  const types = new Map(study.case_types.flatMap((type) => [[type.name.toLowerCase(), type.id] as const, [type.id, type.id] as const]));
  const column = (meaning: Meaning) => meanings.indexOf(meaning);
  const traits = meanings.flatMap((meaning, n) => (meaning.startsWith("trait:") ? [{ id: meaning.slice("trait:".length), n }] : []));
  const arrivals: Arrival[] = [];
  const bad: BadRow[] = [];
  const unknown = new Set<string>();
  file.rows.forEach((row, n) => {
    if (row.every((cell) => cell === "")) return;
    const refuse = (reason: string) => void bad.push({ line: file.firstLine + n, text: row.join("; "), reason });
    const moment = momentOf(row, column("moment"), column("date"), column("time"), order);
    if ("problem" in moment) return refuse(moment.problem);
    const arrival: Arrival = { at: moment.value };
    const typed = column("type") >= 0 ? (row[column("type")] ?? "") : "";
    if (typed) {
      const type = types.get(typed.toLowerCase());
      if (!type) unknown.add(typed);
      if (!type) return refuse(`There is no case type “${typed}”.`);
      arrival.type = type;
    }
    for (const { id, n: place } of traits) {
      const cell = row[place] ?? "";
      const value = cell === "" ? null : traitValue(study, id, cell);
      if (value && "problem" in value) return refuse(value.problem);
      if (value) arrival.traits = { ...arrival.traits, [id]: value.value };
    }
    arrivals.push(arrival);
  });
  arrivals.sort((one, other) => (one.at < other.at ? -1 : one.at > other.at ? 1 : 0));
  return { arrivals, bad, unknownTypes: [...unknown] };
}

type Answer<Value> = { value: Value } | { problem: string };

function momentOf(row: string[], whole: number, date: number, time: number, order: DateOrder): Answer<string> {
  const text = whole >= 0 ? (row[whole] ?? "") : (row[date] ?? "");
  if (text === "") return { problem: "There is no date." };
  const read = readMoment(text, order);
  if (read === null) return { problem: `“${text}” is not a date.` };
  if (read.includes("T")) return { value: read };
  if (time < 0) return { value: `${read}T00:00` };
  const cell = row[time] ?? "";
  const hour = parseTime(cell.replace(/^(\d{1,2}:\d\d):\d\d$/, "$1"));
  return "problem" in hour
    ? { problem: cell === "" ? "There is no time." : `“${cell}” is not a time of day.` }
    : { value: `${read}T${hour.value}` };
}

/** Reads a date, with "T" and a time of day behind it where it has one: 2027-03-01 08:30, 1.3.2027 8:30, 3/1/27. */
export function readMoment(text: string, order: DateOrder): string | null {
  const found =
    /^(\d{4})-(\d\d?)-(\d\d?)(?:[T ]+(.+))?$/.exec(text) ??
    turned(/^(\d\d?)\.(\d\d?)\.(\d{4}|\d\d)(?:,?\s+(.+))?$/.exec(text), "day-first") ??
    turned(/^(\d\d?)\/(\d\d?)\/(\d{4}|\d\d)(?:,?\s+(.+))?$/.exec(text), order);
  if (!found) return null;
  const [, year = "", month = "", day = "", rest] = found;
  const date = `${year.length === 2 ? `20${year}` : year}-${month.padStart(2, "0")}-${day.padStart(2, "0")}`;
  const real = new Date(`${date}T00:00Z`);
  if (Number.isNaN(real.getTime()) || real.toISOString().slice(0, 10) !== date) return null;
  if (!rest) return date;
  const time = /^(\d{1,2}):(\d\d)(?::(\d\d)(?:\.\d+)?)?\s*([ap]m)?(?:Z|[+-]\d\d:?\d\d)?$/i.exec(rest.trim());
  if (!time) return null;
  const hour = (Number(time[1]) % (time[4] ? 12 : 24)) + (time[4]?.toLowerCase() === "pm" ? 12 : 0);
  if (Number(time[1]) > 24 || Number(time[2]) > 59) return null;
  return `${date}T${String(hour).padStart(2, "0")}:${time[2]}${time[3] ? `:${time[3]}` : ""}`;
}

const inEitherOrder = (text: string) => readMoment(text, "day-first") ?? readMoment(text, "month-first");

/** The parts of a date in the order of year, month, day. */
function turned(found: RegExpExecArray | null, order: DateOrder): string[] | null {
  if (!found) return null;
  const [all = "", one = "", other = "", year = "", rest] = found;
  const parts = order === "day-first" ? [all, year, other, one] : [all, year, one, other];
  return rest === undefined ? parts : [...parts, rest];
}

function traitValue(study: StudyDocument, id: string, cell: string): Answer<string | number> {
  const trait = study.traits?.find((each) => each.id === id);
  if (trait?.kind !== "category") return readNumber(cell);
  const value = trait.values?.find((each) => each.toLowerCase() === cell.toLowerCase());
  if (value !== undefined) return { value };
  return { problem: `“${cell}” is no ${trait.name}: it is one of ${(trait.values ?? []).join(", ")}.` };
}
