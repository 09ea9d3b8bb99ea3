import type { Schemas } from "../api/client";
import type { StudyDocument, Team } from "../study/document/types";
import { freshId } from "../study/edits/links";
import { timeOfDay } from "../study/values/days";
import { inUnit } from "../study/values/durations";
import { type RosterRow, shiftOf } from "../study/values/rosters";

export type Sizing = NonNullable<Schemas["StudyDocument"]["sizing"]>[number];
export type TeamLimits = NonNullable<Sizing["teams"]>[number];
export type ShiftLimits = NonNullable<TeamLimits["shifts"]>[number];

const SHORT = ["4 h", "6 h"];
const USUAL: RosterRow = { days: ["mon", "tue", "wed", "thu", "fri"], from: "08:00", to: "16:00", people: 1 };
const LUNCH = { name: "Lunch", length: "30 min", from: "3 h", to: "4.5 h", paid: false };
const MIDNIGHT = 24 * 60;

/** A search in which some teams may change, or, without any, whatever levers there are. */
export function freshSizing(study: StudyDocument, teams: Team[]): Sizing {
  const name = teams.length > 0 ? teams.map((team) => team.name).join(" and ") : "Levers";
  const id = freshId(name, study.sizing ?? []);
  if (teams.length === 0) return { id, name, levers: (study.levers ?? []).map((lever) => lever.id) };
  return { id, name, teams: teams.map(limitsOf) };
}

/** How far a team may change where nothing else is said: up to twice as many, in shifts about as they are today. */
export function limitsOf(team: Team): TeamLimits {
  const rows = team.roster ?? [];
  const there = rows.reduce((sum, row) => sum + row.people, 0) || (team.size ?? 1);
  const people = { low: Math.min(1, there), high: Math.max(4, 2 * there) };
  if ((team.kind ?? "people") !== "people") return { team: team.id, people };
  return { team: team.id, people, shifts: [shiftsLike(rows)] };
}

/** Shifts as long as those of some rows and shorter ones, within the hours that these cover. */
function shiftsLike(rows: RosterRow[]): ShiftLimits {
  const shifts = (rows.length > 0 ? rows : [USUAL]).map(shiftOf);
  const opens = Math.min(...shifts.map(([begins]) => begins));
  const closes = Math.max(...shifts.map(([, ends]) => ends));
  const lengths = [...new Set(shifts.map(([begins, ends]) => ends - begins))].toSorted((one, other) => one - other);
  const longest = lengths.at(-1) ?? 0;
  const shorter = SHORT.filter((each) => Number.parseFloat(each) * 60 < longest);
  const shortest = Math.min(longest, 4 * 60);
  const breaks = rows.some((row) => row.breaks?.length) && longest >= 300 ? [LUNCH] : [];
  return {
    lengths: [...new Set([...shorter, ...lengths.map((length) => inUnit(length, "h"))])],
    from: timeOfDay(opens),
    to: timeOfDay(Math.min(Math.max(opens, closes - shortest), MIDNIGHT - 30)),
    every: "30 min",
    breaks,
  };
}
