import type { Schemas } from "../api/client";
import { DAYS, type Day, daysInWords, parseDate, parseTime } from "../study/values/days";
import { minutes, type Parsed, parseDuration } from "../study/values/durations";
import { MOST_PEOPLE, type RosterRow, shiftOf } from "../study/values/rosters";
import { readNumber } from "../ui/gridText";

type Break = Schemas["Break"];

/** A column of the table of shifts: what it shows of one, and what becomes of what is typed there. */
export interface ShiftColumn {
  id: string;
  label: string;
  width: number;
  numbers?: boolean;
  text: (row: RosterRow) => string;
  /** Takes over what was typed; an empty text clears where that can be. Says what is wrong. */
  put: (row: RosterRow, text: string) => string | null;
}

/** Reads days of the week: "Mon–Fri", "Monday to Friday", "Mon, Wed", "daily". */
export function readDays(text: string): { days: Day[] } | { problem: string } {
  const typed = text.trim().toLowerCase();
  if (/^(daily|every day|all)$/.test(typed)) return { days: DAYS.map((day) => day.id) };
  const chosen = new Set<number>();
  for (const part of typed.split(/[,;+&]|\band\b/)) {
    const [from, to, ...more] = part.split(/\s*(?:[-–—]|\bto\b)\s*/).map(dayAt);
    if (from === undefined || from < 0 || to === -1 || more.length > 0)
      return { problem: `“${text.trim()}” are no days. Write them as Mon–Fri or Mon, Wed.` };
    for (let day = from; ; day = (day + 1) % 7) {
      chosen.add(day);
      if (day === (to ?? from)) break;
    }
  }
  return { days: DAYS.filter((_, n) => chosen.has(n)).map((day) => day.id) };
}

const dayAt = (word: string) => (word.trim().length < 2 ? -1 : DAYS.findIndex((day) => day.name.toLowerCase().startsWith(word.trim())));

const nameInShort = (name: string) => (/^[^";:,]+$/.test(name) && name.trim() === name ? name : JSON.stringify(name));

/** Breaks in short: "Lunch: 30 min after 4 h, in turn; 15 min at 10:00, not paid". */
export function breaksInShort(breaks: Break[]): string {
  return breaks
    .map((each) => {
      const begins = each.after == null ? `at ${each.at}` : `after ${each.after}`;
      const taken = each.taken === "spread" ? `, spread within ${each.within}` : each.taken === "in-turn" ? ", in turn" : "";
      const name = each.name ? `${nameInShort(each.name)}: ` : "";
      return `${name}${each.length} ${begins}${taken}${each.paid === false ? ", not paid" : ""}`;
    })
    .join("; ");
}

const QUOTED = '"(?:[^"\\\\]|\\\\.)*"';
const PARTS = new RegExp(`(?:${QUOTED}|[^;"])+`, "g");
const BREAK = new RegExp(
  `^(?:(${QUOTED}|[^";:,]+): )?(.+?) ` +
    "(?:after (.+?)|at (\\d\\d?:?\\d\\d))" +
    "(?:, (together|in turn|one after the other|spread(?: evenly)? within (.+?)))?(, not paid|, unpaid|, paid)?$",
  "i",
);

/** Reads breaks in short; names are kept by their place where it stays the same. */
export function readBreaks(text: string, before: Break[] = []): { breaks: Break[] } | { problem: string } {
  const breaks: Break[] = [];
  for (const [n, part] of (text.match(PARTS) ?? []).entries()) {
    if (!part.trim()) continue;
    const found = BREAK.exec(part.trim());
    const [, named, long = "", after, at, ...more] = found ?? [];
    const [taken, within, paid] = more.map((each) => each?.toLowerCase());
    const name = named?.startsWith('"') ? (JSON.parse(named) as string) : (named ?? before[n]?.name);
    const [length, later, window] = [long, after ?? "1 h", within ?? "1 h"].map(parseDuration) as [
      Parsed<string>,
      Parsed<string>,
      Parsed<string>,
    ];
    const time = parseTime(at ?? "00:00");
    if (!found || "problem" in length || "problem" in later || "problem" in window || "problem" in time)
      return { problem: `“${part.trim()}” is no break. Write it as 30 min after 4 h, in turn, not paid.` };
    breaks.push({
      ...(name ? { name } : {}),
      ...(at === undefined ? { after: later.value } : { at: time.value }),
      length: length.value,
      ...(taken?.startsWith("spread") ? { taken: "spread" as const, within: window.value } : {}),
      ...(taken === "in turn" || taken === "one after the other" ? { taken: "in-turn" as const } : {}),
      ...(paid && paid !== ", paid" ? { paid: false } : {}),
    });
  }
  return { breaks };
}

function time(id: "from" | "to", label: string): ShiftColumn {
  return {
    id,
    label,
    width: 70,
    text: (row) => row[id],
    put: (row, text) => {
      const read = parseTime(text);
      if ("value" in read) row[id] = read.value;
      return "problem" in read ? read.problem : null;
    },
  };
}

function date(id: "from_date" | "to_date", label: string): ShiftColumn {
  return {
    id,
    label,
    width: 104,
    text: (row) => row[id] ?? "",
    put: (row, text) => {
      const read = parseDate(text);
      if (text.trim() === "") delete row[id];
      else if ("value" in read) row[id] = read.value;
      else return read.problem;
      return null;
    },
  };
}

export const SHIFT_COLUMNS: ShiftColumn[] = [
  {
    id: "days",
    label: "Days",
    width: 120,
    text: (row) => daysInWords(row.days, "short"),
    put: (row, text) => {
      const read = readDays(text);
      if ("days" in read) row.days = read.days;
      return "problem" in read ? read.problem : null;
    },
  },
  time("from", "From"),
  time("to", "To"),
  {
    id: "people",
    label: "People",
    width: 70,
    numbers: true,
    text: (row) => String(row.people),
    put: (row, text) => {
      const read = readNumber(text);
      if ("problem" in read) return read.problem;
      if (!Number.isInteger(read.value) || read.value < 0 || read.value > MOST_PEOPLE) return "Give a whole number of people.";
      row.people = read.value;
      return null;
    },
  },
  {
    id: "breaks",
    label: "Breaks",
    width: 250,
    text: (row) => breaksInShort(row.breaks ?? []),
    put: (row, text) => {
      const read = readBreaks(text, row.breaks);
      if ("problem" in read) return read.problem;
      if (read.breaks.length > 0) row.breaks = read.breaks;
      else delete row.breaks;
      return null;
    },
  },
  {
    id: "overtime",
    label: "Overtime",
    width: 84,
    text: (row) => row.overtime ?? "",
    put: (row, text) => {
      const read = parseDuration(text);
      const [begins, ends] = shiftOf(row);
      if (text.trim() === "") delete row.overtime;
      else if ("problem" in read) return read.problem;
      else if (minutes(read.value) <= 0 || minutes(read.value) > ends - begins) return "Give a part of the shift, or all of it.";
      else row.overtime = read.value;
      return null;
    },
  },
  date("from_date", "Valid from"),
  date("to_date", "Valid until"),
];
