import type { Schemas } from "../../api/client";
import type { Team } from "../document/types";
import { DAY, DAYS, type Day, minuteOfDay } from "./days";
import { minutes } from "./durations";

export type RosterRow = Schemas["RosterRow"];
type Break = Schemas["Break"];

/** A break of one member of a row, by its number in the row, as it falls where no case is in hand. */
export interface PlannedBreak {
  /** Which of the row's breaks it is. */
  place: number;
  member: number;
  begins: number;
  ends: number;
  paid: boolean;
}

export const WEEK = 7 * DAY;
export const QUARTER = 15;
export const MOST_PEOPLE = 100_000;

/** When a row's shift begins and ends, in minutes after the midnight before it; it may pass the next one. */
export function shiftOf(row: RosterRow): [number, number] {
  const [begins, ends] = [minuteOfDay(row.from), minuteOfDay(row.to)];
  return [begins, ends > begins ? ends : ends + DAY];
}

/** The breaks of a row's members in a shift: `tests/shared/rosters.json` holds this law and that of paid time for both languages. */
export function breaksOf(row: RosterRow): PlannedBreak[] {
  const [, ends] = shiftOf(row);
  return (row.breaks ?? []).flatMap((each, place) => {
    const first = beginOf(row, each);
    const length = minutes(each.length);
    return Array.from({ length: row.people }, (_, member) => first + member * apart(each, row.people))
      .map((begin, member) => ({ place, member, begins: begin, ends: Math.min(begin + length, ends), paid: each.paid !== false }))
      .filter(({ begins: begin }) => begin < ends);
  });
}

/** When the first member of a row has a break, in minutes like its shift. */
export function beginOf(row: RosterRow, each: Break): number {
  const [begins] = shiftOf(row);
  return begins + (each.after == null ? (minuteOfDay(each.at ?? "00:00") - begins + DAY) % DAY : minutes(each.after));
}

/** How long after one member's break that of the next begins. */
function apart(each: Break, people: number): number {
  const length = minutes(each.length);
  if (each.taken === "in-turn") return length;
  if (each.taken === "spread") return Math.max(0, minutes(each.within ?? each.length) - length) / Math.max(1, people - 1);
  return 0;
}

/** The minutes of a row's shifts in an ordinary week that are paid: without breaks that are not. */
export function paidMinutes(row: RosterRow): number {
  const [begins, ends] = shiftOf(row);
  const unpaid = breaksOf(row).reduce((sum, each) => sum + (each.paid ? 0 : each.ends - each.begins), 0);
  return row.days.length * (row.people * (ends - begins) - unpaid);
}

/** The minutes of a row's shifts in an ordinary week that are overtime and paid. */
export function overtimeMinutes(row: RosterRow): number {
  if (row.overtime == null) return 0;
  const begins = shiftOf(row)[1] - minutes(row.overtime);
  const unpaid = breaksOf(row).reduce((sum, each) => sum + (each.paid ? 0 : Math.max(0, each.ends - Math.max(each.begins, begins))), 0);
  return row.days.length * (row.people * minutes(row.overtime) - unpaid);
}

/** The paid hours of shifts in an ordinary week, on the dates for which they are valid. */
export const paidHours = (start: string, rows: RosterRow[]) => hoursOf(start, rows, paidMinutes);

function hoursOf(start: string, rows: RosterRow[], minutesOf: (row: RosterRow) => number): number {
  const monday = ordinaryMonday(start);
  const daysOf = (row: RosterRow) => DAYS.filter((_, day) => isOn(row, monday + day)).length;
  return rows.reduce((sum, row) => sum + (minutesOf(row) * daysOf(row)) / row.days.length, 0) / 60;
}

/** The share of shifts to which a member comes. */
const comes = (team: Team) => 1 - (team.absence ?? 0);

/** The wages of an ordinary week by the roster: of those who are paid while they are there, or though they miss a shift. */
export function wagesOf(start: string, team: Team, rows: RosterRow[] = team.roster ?? []): number {
  if (team.paid === "used") return 0;
  const beyond = ((team.overtime ?? 1) - 1) * hoursOf(start, rows, overtimeMinutes);
  return (team.rate ?? 0) * (paidHours(start, rows) + beyond) * (team.absence_paid ? 1 : comes(team));
}

const known = new WeakMap<Team, { start: string; wages: number }>();

/** The wages of an ordinary week of several teams; of a team that is the same object as before they are known. */
export function wagesOfAll(start: string, teams: Team[]): number {
  return teams.reduce((sum, team) => {
    const before = known.get(team);
    const wages = before?.start === start ? before.wages : wagesOf(start, team);
    known.set(team, { start, wages });
    return sum + wages;
  }, 0);
}

/**
 * How many members of a team are on duty on average in each quarter of an hour of an ordinary week, with or without those on a break:
 * `tests/shared/presence.json` holds this law for both languages. The week begins on the first Monday of the study.
 */
export function presentInWeek(start: string, team: Team, withBreaks = true): number[] {
  const count = WEEK / QUARTER;
  if (!team.roster?.length) return Array.from({ length: count }, () => team.size ?? 1);
  const present = Array.from({ length: count }, () => 0);
  const monday = ordinaryMonday(start);
  for (const row of team.roster) {
    const [begins, ends] = shiftOf(row);
    const breaks = withBreaks ? [] : breaksOf(row);
    for (let day = -1; day < 7; day++) {
      if (!isOn(row, monday + day)) continue;
      addTo(present, DAY * day + begins, DAY * day + ends, row.people * comes(team));
      for (const each of breaks) addTo(present, DAY * day + each.begins, DAY * day + each.ends, -comes(team));
    }
  }
  return present;
}

function addTo(present: number[], begins: number, ends: number, people: number): void {
  const last = Math.min(present.length, Math.ceil(ends / QUARTER));
  for (let quarter = Math.max(0, Math.floor(begins / QUARTER)); quarter < last; quarter++) {
    const part = Math.min(ends, (quarter + 1) * QUARTER) - Math.max(begins, quarter * QUARTER);
    present[quarter] = (present[quarter] ?? 0) + (people * part) / QUARTER;
  }
}

/** Days since 1970 of the first Monday at or after a study's first day. */
function ordinaryMonday(start: string): number {
  const first = daysSince(start.slice(0, 10));
  return first + ((7 - weekdayOf(first)) % 7);
}

const daysSince = (date: string) => Date.parse(`${date}T00:00Z`) / 86_400_000;
/** 0 for Monday; the first day of 1970 was a Thursday. */
const weekdayOf = (day: number) => (((day + 3) % 7) + 7) % 7;

/** Whether a row has a shift that begins on a date, by its days and by the dates from and to which it is valid. */
function isOn(row: RosterRow, day: number): boolean {
  const id = DAYS[weekdayOf(day)]?.id as Day;
  if (!row.days.includes(id)) return false;
  return !(row.from_date && daysSince(row.from_date) > day) && !(row.to_date && daysSince(row.to_date) < day);
}
