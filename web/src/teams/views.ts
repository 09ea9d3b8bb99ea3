import type { StudyDocument, Team } from "../study/document/types";
import { DAY, DAYS, daysInWords } from "../study/values/days";
import { type RosterRow, shiftOf } from "../study/values/rosters";
import type { Span } from "./coverage";

/** A day of the week by its number from Monday, or the whole week. */
export type View = number | "week";

/** A row of a team's roster. */
export interface Chosen {
  team: string;
  row: number;
}

/** Shifts as they are while one of them is dragged. */
export interface Preview {
  rows: Chosen[];
  how: (row: RosterRow) => RosterRow;
}

export const isAmong = (chosen: Chosen[], team: string, row: number) => chosen.some((each) => each.team === team && each.row === row);

const HOUR = 60;
const MARGIN = 30;
const USUAL = [7 * HOUR, 19 * HOUR] as const;

/** The study with shifts as they are dragged. */
export function previewed(study: StudyDocument, preview: Preview | null): StudyDocument {
  if (!preview) return study;
  const { rows, how } = preview;
  const teams = study.teams.map((team) =>
    rows.some((each) => each.team === team.id)
      ? { ...team, roster: team.roster?.map((row, n) => (isAmong(rows, team.id, n) ? how(row) : row)) }
      : team,
  );
  return { ...study, teams };
}

/** What time a view shows, in minutes after Monday's midnight: in a day all shifts that begin then, with a margin. */
export function spanOf(study: StudyDocument, view: View): Span {
  if (view === "week") return { from: 0, to: 7 * DAY };
  const day = DAYS[view]?.id;
  const shifts = study.teams.flatMap((team) => team.roster ?? []).filter((row) => day && row.days.includes(day));
  const [first, last] = [Math.min(...shifts.map((row) => shiftOf(row)[0])), Math.max(...shifts.map((row) => shiftOf(row)[1]))];
  const [from, to] = shifts.length > 0 ? [Math.max(0, first - MARGIN), last + MARGIN] : USUAL;
  return { from: view * DAY + Math.floor(from / HOUR) * HOUR, to: view * DAY + Math.ceil(to / HOUR) * HOUR };
}

/** On which days of a view a shift begins, in minutes after Monday's midnight. */
export function beginningsOf(row: RosterRow, view: View): number[] {
  const days = view === "week" ? DAYS.map((_, n) => n) : [view];
  return days.filter((day) => row.days.includes(DAYS[day]?.id ?? "mon")).map((day) => day * DAY);
}

/** The rows of a team that are there in a view, by their number in its roster. */
export function rowsIn(team: Team, view: View): { row: RosterRow; n: number }[] {
  return (team.roster ?? []).map((row, n) => ({ row, n })).filter(({ row }) => beginningsOf(row, view).length > 0);
}

/** A shift in words for who cannot see the board. */
export function shiftInWords(team: Team, row: RosterRow): string {
  const people = `${row.people} ${row.people === 1 ? "person" : "people"}`;
  const overtime = row.overtime ? `, the last ${row.overtime} overtime` : "";
  return `${team.name}, ${daysInWords(row.days)}, ${row.from} to ${row.to}, ${people}${overtime}`;
}

/** A number as it is typed digit by digit, and when the last of them came. */
export interface Typed {
  digits: string;
  at: number;
}

/** Digits that follow each other within so many milliseconds are one number. */
const ONE_NUMBER = 1200;

/** What is typed with one more digit: it goes on with the number, or begins another. */
export function withDigit(typed: Typed, digit: string, at: number): Typed {
  return { digits: at - typed.at < ONE_NUMBER ? typed.digits + digit : digit, at };
}
