import type { Schemas } from "../../api/client";
import type { Parsed } from "./durations";

export type Day = Schemas["Hours"]["days"][number];

/** Minutes. */
export const DAY = 1440;

export const DAYS: { id: Day; name: string; short: string }[] = [
  { id: "mon", name: "Monday", short: "Mon" },
  { id: "tue", name: "Tuesday", short: "Tue" },
  { id: "wed", name: "Wednesday", short: "Wed" },
  { id: "thu", name: "Thursday", short: "Thu" },
  { id: "fri", name: "Friday", short: "Fri" },
  { id: "sat", name: "Saturday", short: "Sat" },
  { id: "sun", name: "Sunday", short: "Sun" },
];

/** Days in words: "Monday to Friday", "Monday, Wednesday". */
export function daysInWords(days: readonly Day[], word: "name" | "short" = "name"): string {
  const places = DAYS.map((each, n) => ({ n, ...each })).filter((each) => days.includes(each.id));
  const runs: (typeof places)[] = [];
  for (const each of places) {
    const last = runs.at(-1);
    if (last && last.at(-1)?.n === each.n - 1) last.push(each);
    else runs.push([each]);
  }
  const between = word === "name" ? " to " : "–";
  return runs
    .flatMap((run) => (run.length > 2 ? [`${run[0]?.[word]}${between}${run.at(-1)?.[word]}`] : run.map((each) => each[word])))
    .join(", ");
}

/** A time of day in minutes after midnight. */
export function minuteOfDay(time: string): number {
  const [hours = 0, rest = 0] = time.split(":").map(Number);
  return 60 * hours + rest;
}

/** Minutes after midnight as a time of day. */
export function timeOfDay(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
}

/** Reads a time of day ("8", "8:30", "0830"). */
export function parseTime(text: string): Parsed<string> {
  const found = /^(\d{1,2})(?::?(\d\d))?$/.exec(text.trim());
  const [hours, rest] = [Number(found?.[1]), Number(found?.[2] ?? 0)];
  if (!found || hours > 24 || rest > 59 || (hours === 24 && rest > 0))
    return { problem: `“${text.trim()}” is not a time of day. Write it as 08:30.` };
  return { value: `${String(hours).padStart(2, "0")}:${String(rest).padStart(2, "0")}` };
}

/** Reads a date: 2027-03-01 or 1.3.2027. */
export function parseDate(text: string): Parsed<string> {
  const typed = text.trim();
  const turned = /^(\d{1,2})\.(\d{1,2})\.(\d{4})$/.exec(typed);
  const iso = turned ? `${turned[3]}-${turned[2]?.padStart(2, "0")}-${turned[1]?.padStart(2, "0")}` : typed;
  const real = /^\d{4}-\d\d-\d\d$/.test(iso) && new Date(`${iso}T00:00Z`);
  if (!real || Number.isNaN(real.getTime()) || real.toISOString().slice(0, 10) !== iso)
    return { problem: `“${typed}” is not a date. Write it as 2027-03-01.` };
  return { value: iso };
}
