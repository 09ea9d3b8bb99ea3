import type { Schemas } from "../api/client";
import { DAY } from "../study/values/days";
import { QUARTER } from "../study/values/rosters";

export type DayEnds = Schemas["DayEnds"];

const DAY_QUARTERS = DAY / QUARTER;
/** Fewer than this, on average, is nobody. */
const SOMEBODY = 0.05;
/** Quarters of an hour shown before the last case comes, and after everybody has gone. */
const BEFORE = 8;
const AN_HOUR = 4;
const AFTER = 4;
const MOST_AFTER = 14 * 4;

/** The end of one day, by quarter of an hour from `from` on, in minutes after the day's midnight. */
export interface DayEnd {
  from: number;
  arrived: number[];
  waiting: number[];
  there: { team: string; members: number[] }[];
  /** When the last case comes, when nobody waits any more, and when the last of each team goes; null for not within sight. */
  lastCase: number;
  noLine: number | null;
  gone: Record<string, number | null>;
}

/** How a day of the mean week ends; null where no case comes on it, or where they do not stop coming. */
export function dayEnd(week: DayEnds, day: number): DayEnd | null {
  const count = week.arrived.length;
  const at = (values: (number | null)[], quarter: number) => values[(day * DAY_QUARTERS + quarter) % count] ?? 0;
  const quarters = Array.from({ length: DAY_QUARTERS }, (_, n) => n);
  const last = quarters.findLast((quarter) => at(week.arrived, quarter) > 0);
  if (last === undefined || at(week.arrived, last + 1) > 0) return null;
  const isNobody = (values: (number | null)[], quarter: number) => at(values, quarter) < SOMEBODY;
  /** The quarter from which on there is nobody: after the last case has come, or before. */
  const over = (values: (number | null)[]): number | null => {
    let quarter = last + 1;
    while (quarter > 0 && isNobody(values, quarter - 1) && isNobody(values, quarter)) quarter--;
    while (quarter <= last + MOST_AFTER && !isNobody(values, quarter)) quarter++;
    return quarter > last + MOST_AFTER ? null : quarter;
  };
  const noLine = over(week.waiting);
  const gone = Object.fromEntries(Object.entries(week.there).map(([team, values]) => [team, over(values)]));
  const until = Math.max(last + 1, ...[noLine, ...Object.values(gone)].map((each) => each ?? 0)) + AFTER;
  const from = Math.max(0, Math.floor((last + 1 - BEFORE) / AN_HOUR) * AN_HOUR);
  const course = (values: (number | null)[]) => Array.from({ length: until - from }, (_, n) => at(values, from + n));
  const minutes = (quarter: number | null) => (quarter === null ? null : quarter * QUARTER);
  return {
    from: from * QUARTER,
    arrived: course(week.arrived),
    waiting: course(week.waiting),
    there: Object.entries(week.there).map(([team, values]) => ({ team, members: course(values) })),
    lastCase: (last + 1) * QUARTER,
    noLine: minutes(noLine),
    gone: Object.fromEntries(Object.entries(gone).map(([team, quarter]) => [team, minutes(quarter)])),
  };
}
