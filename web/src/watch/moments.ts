import type { Outline } from "../api/queries";
import { DAY, DAYS } from "../study/values/days";

/** Minutes from Monday's midnight of the week in which a replication starts to its start. */
export function startMinute(start: string): number {
  const at = new Date(`${start}Z`);
  return ((at.getUTCDay() + 6) % 7) * DAY + at.getUTCHours() * 60 + at.getUTCMinutes();
}

const two = (number: number) => String(number).padStart(2, "0");

/** A moment in words: "Thursday 11:42", with seconds where asked for, and the week from the second on. */
export function momentInWords(start: string, moment: number, withSeconds = false): string {
  const minute = startMinute(start) + moment;
  const day = Math.floor(minute / DAY);
  const inDay = minute - day * DAY;
  const seconds = withSeconds ? `:${two(Math.floor((inDay * 60) % 60))}` : "";
  return `${DAYS[day % 7]?.name} ${two(Math.floor(inDay / 60))}:${two(Math.floor(inDay % 60))}${seconds}`;
}

/** How many midnights there are between the one before the start and a moment. */
export const dayOf = (start: string, moment: number) =>
  Math.floor((startMinute(start) + moment) / DAY) - Math.floor(startMinute(start) / DAY);

/** The week in which a moment is, from 1. */
export const weekOf = (start: string, moment: number) => Math.floor((startMinute(start) + moment) / (7 * DAY)) + 1;

/** The midnight before a moment, in minutes since the start; it may lie before that. */
export const midnightBefore = (start: string, moment: number) => Math.floor((startMinute(start) + moment) / DAY) * DAY - startMinute(start);

/** Reads a moment that is typed, near another one: "11:42" of the same day, "Thu 11:42" of the same week, "Thu 11:42 week 3". */
export function readMoment(text: string, start: string, near: number): number | null {
  const found = /^(?:([a-z]+)\s+)?(\d{1,2})[:.](\d\d)(?:\s+week\s+(\d+))?$/i.exec(text.trim());
  if (!found) return null;
  const [, word, hours, minutes, week] = found;
  const inDay = Number(hours) * 60 + Number(minutes);
  const day = word ? DAYS.findIndex(({ name }) => name.toLowerCase().startsWith(word.toLowerCase())) : -1;
  if ((word && day < 0) || inDay >= DAY) return null;
  const here = startMinute(start) + near;
  const monday = week ? (Number(week) - 1) * 7 * DAY : Math.floor(here / (7 * DAY)) * 7 * DAY;
  const midnight = word || week ? monday + Math.max(0, day) * DAY : Math.floor(here / DAY) * DAY;
  return midnight + inDay - startMinute(start);
}

/** How many wait at a step at most. */
export const mostWaiting = (waiting: Outline["waiting"], step: string | undefined) =>
  ((step !== undefined && waiting[step]) || []).reduce((most, each) => Math.max(most, each), 0);

/** When most cases are inside. */
export function fullest({ inside, interval }: Outline): number {
  return Math.max(0, inside.indexOf(inside.reduce((most, each) => Math.max(most, each), 0))) * interval;
}

/** From when until when something is seen on a day, in minutes since the start, in full hours. */
export function hoursOfDay({ inside, interval, ends }: Outline, midnight: number): [number, number] {
  const of = (at: number) => inside[Math.floor(at / interval)] ?? 0;
  const times = Array.from({ length: Math.round(DAY / interval) }, (_, n) => midnight + n * interval).filter((at) => at >= 0 && at < ends);
  const used = times.filter((at) => of(at) > 0);
  const [first, last] = used.length > 0 ? [used[0] ?? 0, used.at(-1) ?? 0] : [midnight + 8 * 60, midnight + 17 * 60];
  const from = midnight + Math.floor((first - midnight) / 60) * 60;
  return [from, Math.max(from + 60, midnight + Math.ceil((last + interval - midnight) / 60) * 60)];
}
