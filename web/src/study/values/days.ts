import type { Schemas } from "../../api/client";

export type Day = Schemas["Hours"]["days"][number];

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
