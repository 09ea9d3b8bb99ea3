import type { Answer } from "../api/queries";
import { DAY } from "../study/values/days";
import type { Changed } from "./looked";

/** A team over one day: how many are needed, also by theory alone, there today, and there by what is looked at, for each interval. */
export interface Band {
  team: string;
  needed: number[];
  byTheory: number[];
  present: number[];
  proposed: number[];
}

/** The first and last minute of a day between which something is shown. */
export interface Hours {
  from: number;
  to: number;
}

const LITTLE = 0.005;
const HOUR = 60;

/** The days of the week, from 0 for Monday, on which anybody is needed or there. */
export function daysOf(answer: Answer, shown: Changed): number[] {
  const rows = rowsOf(answer, shown);
  const aDay = DAY / answer.interval;
  return [0, 1, 2, 3, 4, 5, 6].filter((day) => rows.some((row) => row.slice(day * aDay, (day + 1) * aDay).some((value) => value > LITTLE)));
}

/** The hours between which anybody is needed or there on any day, in full ones. */
export function hoursOf(answer: Answer, shown: Changed): Hours {
  const aDay = DAY / answer.interval;
  const used = rowsOf(answer, shown).flatMap((row) => row.flatMap((value, n) => (value > LITTLE ? [n % aDay] : [])));
  if (used.length === 0) return { from: 8 * HOUR, to: 17 * HOUR };
  const [first, last] = [used.reduce((one, other) => Math.min(one, other)), used.reduce((one, other) => Math.max(one, other)) + 1];
  return {
    from: Math.floor((first * answer.interval) / HOUR) * HOUR,
    to: Math.min(DAY, Math.ceil((last * answer.interval) / HOUR) * HOUR),
  };
}

/** Every team on a day between some hours. */
export function bandsOf(answer: Answer, shown: Changed, day: number, { from, to }: Hours): Band[] {
  const begin = (day * DAY + from) / answer.interval;
  const end = (day * DAY + to) / answer.interval;
  const cut = (row: number[] | undefined) => Array.from({ length: end - begin }, (_, n) => row?.[begin + n] ?? 0);
  const teams = [...new Set([...Object.keys(answer.present), ...Object.keys(answer.need)])];
  return teams.map((team) => ({
    team,
    needed: cut(answer.need[team]),
    byTheory: cut(answer.need_by_theory[team]),
    present: cut(answer.present[team]),
    proposed: cut(shown.there[team]),
  }));
}

/** The busiest of some days, by what is needed. */
export function busiest(answer: Answer, days: number[]): number {
  const aDay = DAY / answer.interval;
  const needed = (day: number) =>
    Object.values(answer.need).reduce(
      (sum, row) => sum + row.slice(day * aDay, (day + 1) * aDay).reduce((total, value) => total + value, 0),
      0,
    );
  return days.reduce((best, day) => (needed(day) > needed(best) ? day : best), days[0] ?? 0);
}

const rowsOf = (answer: Answer, shown: Changed) => [
  ...Object.values(answer.need),
  ...Object.values(answer.present),
  ...Object.values(shown.there),
];
