import type { StudyDocument } from "../study/document/types";
import { startOf } from "../study/document/types";
import { DAY, DAYS, timeOfDay } from "../study/values/days";
import { presentInWeek, QUARTER, WEEK } from "../study/values/rosters";

/** Minutes after a Monday's midnight between which a board shows time; more than a week where a shift passes its end. */
export interface Span {
  from: number;
  to: number;
}

/** How many are there and how many the work needs, by quarter of an hour from the span's beginning. */
export interface Coverage {
  there: number[];
  needed: number[];
}

/** A stretch of time in which fewer are there than the work needs, and by how many at worst. */
export interface Gap extends Span {
  by: number;
}

/** A difference in people that is none. */
export const ENOUGH = 0.005;

/** Who of some teams is there, breaks taken off, beside what the work needs of them together. */
export function coverageOf(study: StudyDocument, teams: string[], load: Record<string, number[]> | undefined, span: Span): Coverage {
  const start = startOf(study);
  const present = study.teams.filter((team) => teams.includes(team.id)).map((team) => presentInWeek(start, team, false));
  const needed = teams.flatMap((id) => (load?.[id] ? [load[id]] : []));
  return { there: within(sum(present), span), needed: within(sum(needed), span) };
}

const sum = (rows: number[][]) => Array.from({ length: WEEK / QUARTER }, (_, n) => rows.reduce((total, row) => total + (row[n] ?? 0), 0));

function within(values: number[], { from, to }: Span): number[] {
  return Array.from({ length: (to - from) / QUARTER }, (_, n) => values[(from / QUARTER + n) % values.length] ?? 0);
}

/** When fewer are there than the work needs. */
export function gapsIn({ there, needed }: Coverage, from: number): Gap[] {
  const gaps: Gap[] = [];
  needed.forEach((need, n) => {
    const by = need - (there[n] ?? 0);
    if (by <= ENOUGH) return;
    const begins = from + n * QUARTER;
    const last = gaps.at(-1);
    if (last?.to === begins) {
      last.to = begins + QUARTER;
      last.by = Math.max(last.by, by);
    } else gaps.push({ from: begins, to: begins + QUARTER, by });
  });
  return gaps;
}

/** A gap in words: "11:00–12:00 short by 1.2", with the day where more than one is shown. */
export function gapInWords({ from, to, by }: Gap, withDay = false): string {
  const day = withDay ? `${DAYS[Math.floor(from / DAY) % 7]?.short} ` : "";
  return `${day}${timeOfDay(from % DAY)}–${timeOfDay(to % DAY)} short by ${Number(by.toFixed(1)) || "a little"}`;
}
