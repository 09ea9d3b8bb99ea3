import type { Schemas } from "../api/client";

export type CostLine = Schemas["CostLine"];
export type Week = Schemas["Week"];

/** The means of some simulated weeks; null where no week says anything. */
export interface Means {
  wait: number | null;
  wait_p90: number | null;
  inside: number | null;
  cost: number | null;
  loads: Record<string, number | null>;
  lines: Record<string, number>;
}

/** The means over weeks, of each figure over those that have it; a step without a line in a week counts as nobody waiting. */
export function meansOf(weeks: Week[]): Means | null {
  if (weeks.length === 0) return null;
  const each = (figure: (week: Week) => number | null | undefined) => mean(weeks.map(figure));
  const ids = (key: "loads" | "lines") => [...new Set(weeks.flatMap((week) => Object.keys(week[key])))];
  return {
    wait: each((week) => week.wait),
    wait_p90: each((week) => week.wait_p90),
    inside: each((week) => week.inside),
    cost: each((week) => week.cost),
    loads: Object.fromEntries(ids("loads").map((id) => [id, each((week) => week.loads[id])])),
    lines: Object.fromEntries(ids("lines").map((id) => [id, each((week) => week.lines[id] ?? 0) ?? 0])),
  };
}

/** The money of some weeks line by line, the mean over all of them; a line that a week lacks is nothing in it. */
export function costsOf(weeks: Week[]): CostLine[] | null {
  if (weeks.length === 0) return null;
  const keyOf = (line: CostLine) => `${line.team} ${line.line}`;
  const every = new Map(weeks.flatMap((week) => week.costs.map((line) => [keyOf(line), line])));
  return [...every.values()].map((line) => {
    const found = weeks.map((week) => week.costs.find((each) => keyOf(each) === keyOf(line)));
    return {
      ...line,
      per_day: mean(found.map((each) => each?.per_day ?? 0)) ?? 0,
      per_open_day: mean(found.map((each) => each?.per_open_day ?? 0)) ?? 0,
      per_case: mean(found.map((each) => each?.per_case ?? 0)),
    };
  });
}

function mean(values: (number | null | undefined)[]): number | null {
  const known = values.filter((value) => typeof value === "number");
  return known.length > 0 ? known.reduce((sum, value) => sum + value, 0) / known.length : null;
}

/** What is now and what was before, over the weeks that both have: they have the same luck, so what differs is the edit's. */
export function sideBySide(now: Week[], before: Week[]): { now: Means; before: Means } | null {
  const both = Math.min(now.length, before.length);
  const [one, other] = [meansOf(now.slice(0, both)), meansOf(before.slice(0, both))];
  return one && other && { now: one, before: other };
}
