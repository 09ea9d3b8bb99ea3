import type { Team } from "../document/types";
import { DAY, DAYS, type Day, minuteOfDay, timeOfDay } from "../values/days";
import { inUnit, minutes, unitOf } from "../values/durations";
import { beginOf, type RosterRow, shiftOf } from "../values/rosters";

/** The latest that a shift begins before midnight, in minutes. */
const LEAST = 15;
const WORKDAYS = DAYS.slice(0, 5).map((day) => day.id);

/** A new shift: one person on the days of a working week, or on those given. */
export function newShift(days: RosterRow["days"] = WORKDAYS): RosterRow {
  return { days: [...days], from: "08:00", to: "16:00", people: 1 };
}

/** Gives a team that is always there a shift of as many people. */
export function toRoster(team: Team): void {
  team.roster = [{ ...newShift(), people: Math.max(1, team.size ?? 1) }];
  delete team.size;
}

/** Lets a team always be there, with as many as its shifts have at most together on a day. */
export function toAlwaysThere(team: Team): void {
  const most = DAYS.map((day) => (team.roster ?? []).filter((row) => row.days.includes(day.id)).reduce((sum, row) => sum + row.people, 0));
  team.size = Math.max(1, ...most);
  delete team.roster;
}

/** Takes a shift of a team away; without its last one it is always there. */
export function takeAwayShift(team: Team, n: number): void {
  if (team.roster?.length === 1) toAlwaysThere(team);
  else team.roster?.splice(n, 1);
}

/** Lets a team have on other days the shifts that it has on one; a shift of a single date stays as it is. */
export function copyDay(team: Team, from: Day, to: readonly Day[]): void {
  for (const row of team.roster ?? []) {
    if (row.from_date && row.from_date === row.to_date) continue;
    const isOn = (day: Day) => row.days.includes(to.includes(day) ? from : day);
    row.days = DAYS.map((day) => day.id).filter(isOn);
  }
  setRoster(
    team,
    (team.roster ?? []).filter((row) => row.days.length > 0),
  );
}

/** Gives a team its shifts; without any, nobody of it is ever there. */
export function setRoster(team: Team, rows: RosterRow[]): void {
  if (rows.length > 0) {
    team.roster = rows;
    delete team.size;
  } else {
    delete team.roster;
    team.size = 0;
  }
}

/** A shift that begins and ends so many minutes later, but on the same day; breaks at a time of day go with it. */
export function moved(row: RosterRow, wished: number): RosterRow {
  const [begins] = shiftOf(row);
  const by = Math.min(Math.max(begins + wished, 0), DAY - LEAST) - begins;
  const later = (time: string) => clock(minuteOfDay(time) + by);
  const breaks = row.breaks?.map((each) => (each.at ? { ...each, at: later(each.at) } : each));
  return { ...row, from: later(row.from), to: later(row.to), ...(breaks && { breaks }) };
}

/** A shift whose beginning or end is so many minutes later; it stays at least as long as one step and at most a day. */
export function stretched(row: RosterRow, end: "from" | "to", by: number, least: number): RosterRow {
  const [begins, ends] = shiftOf(row);
  const long = end === "to" ? ends - begins + by : ends - begins - by;
  const kept = Math.min(Math.max(long, least), DAY);
  const hours = end === "to" ? { to: clock(begins + kept) } : { from: clock(ends - kept) };
  return withOvertime({ ...row, ...hours }, Math.min(kept, overtimeOf(row)));
}

/** A shift one of whose breaks begins so many minutes later, within the shift. */
export function breakMoved(row: RosterRow, place: number, by: number): RosterRow {
  const [begins, ends] = shiftOf(row);
  const breaks = row.breaks?.map((each, n) => {
    if (n !== place) return each;
    const long = minutes(each.length);
    const kept = Math.min(Math.max(beginOf(row, each) + by, begins), Math.max(begins, ends - long));
    return each.after == null ? { ...each, at: clock(kept) } : { ...each, after: inUnit(kept - begins, unitOf(each.after)) };
  });
  return { ...row, breaks };
}

/** Two shifts of one, the second from a minute on; each has the breaks that begin in it. */
export function split(row: RosterRow, minute: number): [RosterRow, RosterRow] {
  const breaks = row.breaks ?? [];
  const first = breaks.filter((each) => beginOf(row, each) < minute);
  const second = breaks
    .filter((each) => beginOf(row, each) >= minute)
    .map((each) => (each.after == null ? each : { ...each, after: inUnit(beginOf(row, each) - minute, "min") }));
  const later = shiftOf(row)[1] - minute;
  const overtime = [Math.max(0, overtimeOf(row) - later), Math.min(later, overtimeOf(row))] as const;
  return [
    withOvertime(withBreaks({ ...row, to: clock(minute) }, first), overtime[0]),
    withOvertime(withBreaks({ ...row, from: clock(minute) }, second), overtime[1]),
  ];
}

const overtimeOf = (row: RosterRow) => (row.overtime == null ? 0 : minutes(row.overtime));

/** A shift with so many minutes of overtime at its end, written as before where they are as many. */
function withOvertime({ overtime, ...row }: RosterRow, wanted: number): RosterRow {
  if (overtime == null || wanted <= 0) return row;
  return { ...row, overtime: minutes(overtime) === wanted ? overtime : inUnit(wanted, unitOf(overtime)) };
}

function withBreaks({ breaks: _, ...row }: RosterRow, breaks: NonNullable<RosterRow["breaks"]>): RosterRow {
  return breaks.length > 0 ? { ...row, breaks } : row;
}

/** A minute as a time of day, whatever day it is of. */
const clock = (minute: number) => timeOfDay(((minute % DAY) + DAY) % DAY);
