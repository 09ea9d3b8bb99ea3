import type { Team } from "../document/types";
import { DAYS, timeOfDay } from "../values/days";
import { presentInWeek, type RosterRow } from "../values/rosters";
import { setRoster } from "./rosters";

/** Half hours of a day and of a week. */
export const SLOTS = 48;
const WEEK = 7 * SLOTS;
const MINUTES = 30;
/** So many rises and falls are looked at, over all ways that are tried, before the best one so far is taken. */
const MOST_LOOKED_AT = 30_000;
/** So many times a way may part from the most telling shift. */
const MOST_TURNS = 4;
/** Of the shifts that could be taken next so many are tried. */
const WIDTH = 4;

/** A shift by its first half hour in the day, its length in half hours, its people, and the days on which it begins. */
interface Shift {
  from: number;
  long: number;
  people: number;
  days: number[];
}

const isDated = (row: RosterRow) => Boolean(row.from_date || row.to_date);

/** The people of a team's shifts in each half hour of a week from Monday's midnight; shifts that are valid between dates are left out. */
export function headcountOf(team: Team): number[] {
  const roster = (team.roster ?? []).filter((row) => !isDated(row));
  if (roster.length === 0) return new Array<number>(WEEK).fill(0);
  const quarters = presentInWeek("2027-03-01", { ...team, roster, absence: 0 });
  return Array.from({ length: WEEK }, (_, n) => ((quarters[2 * n] ?? 0) + (quarters[2 * n + 1] ?? 0)) / 2);
}

/** Gives a team the fewest shifts that have so many people there in each half hour of a week. */
export function setHeadcount(team: Team, people: number[]): void {
  const before = team.roster ?? [];
  const dated = before.filter(isDated);
  const rows = fewestShifts(people).map((shift) => rowOf(shift, before));
  setRoster(team, [...rows, ...dated]);
}

/** A shift as a row; it has the breaks and the overtime of a row that was there with the same hours. */
function rowOf({ from, long, people, days }: Shift, before: RosterRow[]): RosterRow {
  const [begins, ends] = [from, from + long].map((slot) => timeOfDay((slot % SLOTS) * MINUTES));
  const row = { days: days.map((day) => DAYS[day]?.id ?? "mon"), from: begins ?? "", to: ends ?? "", people };
  const { breaks, overtime } = before.find((each) => each.from === row.from && each.to === row.to && (each.breaks ?? each.overtime)) ?? {};
  return { ...row, ...(breaks && { breaks }), ...(overtime && { overtime }) };
}

/** The fewest shifts of at most a day each that together have so many people there in each half hour of a week that repeats. */
export function fewestShifts(people: number[]): Shift[] {
  const always = Math.min(...people);
  const base: Shift[] = always > 0 ? [{ from: 0, long: SLOTS, people: always, days: DAYS.map((_, n) => n) }] : [];
  const left = people.map((each) => each - always);
  const search: Search = { best: null, lookedAt: 0 };
  for (let turns = 0; turns <= MOST_TURNS; turns++) goOn(left, [], turns, search);
  return [...base, ...(search.best ?? [])].toSorted((one, other) => one.from - other.from || one.long - other.long);
}

interface Search {
  best: Shift[] | null;
  lookedAt: number;
}

/** Takes one shift after another out of what is left: the most telling one but for so many turns, while there are tries. */
function goOn(left: number[], taken: Shift[], turns: number, search: Search): void {
  const changes = left.map((each, n) => each - (left.at(n - 1) ?? 0));
  const most = search.best?.length ?? Number.POSITIVE_INFINITY;
  if (changes.every((each) => each === 0)) {
    if (taken.length < most) search.best = taken;
    return;
  }
  if (taken.length + leastNeeded(changes) >= most) return;
  telling(left, changes)
    .slice(0, turns > 0 ? WIDTH : 1)
    .forEach((shift, n) => {
      if (search.best && search.lookedAt >= MOST_LOOKED_AT) return;
      search.lookedAt += changes.filter((each) => each !== 0).length;
      goOn(without(left, shift), [...taken, shift], n > 0 ? turns - 1 : turns, search);
    });
}

/** How many shifts it takes at least: each settles one rise and one fall of the day on which it begins, at most. */
function leastNeeded(changes: number[]): number {
  const rises = DAYS.map((_, day) => changes.slice(day * SLOTS, (day + 1) * SLOTS).filter((each) => each > 0).length);
  return Math.max(1, ...rises);
}

/** The shifts that settle the most rises and falls at once. */
function telling(left: number[], changes: number[]): Shift[] {
  const isChange = Array.from({ length: SLOTS }, (_, slot) => DAYS.some((_day, day) => changes[day * SLOTS + slot] !== 0));
  const found: { shift: Shift; settles: number }[] = [];
  for (let from = 0; from < SLOTS; from++) {
    if (!isChange[from]) continue;
    const least = DAYS.map(() => Number.POSITIVE_INFINITY);
    for (let long = 1; long <= SLOTS; long++) {
      DAYS.forEach((_, day) => {
        least[day] = Math.min(least[day] ?? 0, left[(day * SLOTS + from + long - 1) % WEEK] ?? 0);
      });
      if (isChange[(from + long) % SLOTS]) found.push(...shiftsBetween(least, changes, from, long));
    }
  }
  const best = found.toSorted(
    (one, other) => other.settles - one.settles || other.shift.people * other.shift.long - one.shift.people * one.shift.long,
  );
  return best.length > 0 ? best.slice(0, WIDTH).map(({ shift }) => shift) : [wholeDay(changes)];
}

/** The shifts with the same hours, by how many come: on the days on which they settle more than they unsettle. */
function shiftsBetween(least: number[], changes: number[], from: number, long: number) {
  const begin = (day: number) => changes[day * SLOTS + from] ?? 0;
  const end = (day: number) => -(changes[(day * SLOTS + from + long) % WEEK] ?? 0);
  const settled = (change: number, people: number) => Number(change === people) - Number(change === 0);
  const gain = (day: number, people: number) => settled(begin(day), people) + settled(end(day), people);
  const amounts = new Set(DAYS.flatMap((_, day) => [begin(day), end(day)]).filter((each) => each > 0));
  return [...amounts].flatMap((people) => {
    const able = DAYS.map((_, day) => day).filter((day) => (least[day] ?? 0) >= people && gain(day, people) >= 0);
    const telling = able.filter((day) => gain(day, people) > 0);
    const settles = telling.reduce((sum, day) => sum + gain(day, people), 0);
    const choices = able.length > telling.length ? [telling, able] : [telling];
    return settles > 0 ? choices.map((days) => ({ shift: { from, long, people, days }, settles })) : [];
  });
}

/** The first day of those who come and do not leave within a day. */
function wholeDay(changes: number[]): Shift {
  const first = changes.findIndex((each) => each > 0);
  return { from: first % SLOTS, long: SLOTS, people: changes[first] ?? 1, days: [Math.floor(first / SLOTS)] };
}

function without(left: number[], { from, long, people, days }: Shift): number[] {
  const rest = [...left];
  for (const day of days)
    for (let slot = 0; slot < long; slot++) {
      const place = (day * SLOTS + from + slot) % WEEK;
      rest[place] = (rest[place] ?? 0) - people;
    }
  return rest;
}
