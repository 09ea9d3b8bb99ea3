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

/** A time of day in minutes after midnight. */
export function minuteOfDay(time: string): number {
  const [hours = 0, rest = 0] = time.split(":").map(Number);
  return 60 * hours + rest;
}

/** Minutes after midnight as a time of day. */
export function timeOfDay(minute: number): string {
  return `${String(Math.floor(minute / 60)).padStart(2, "0")}:${String(minute % 60).padStart(2, "0")}`;
}
