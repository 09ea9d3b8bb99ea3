import Papa from "papaparse";
import type { Schemas } from "../api/client";
import type { StudyDocument, Team } from "../study/document/types";
import { newShift, setRoster } from "../study/edits/rosters";
import { parseDate } from "../study/values/days";
import { SHIFT_COLUMNS } from "./rosterColumns";

/** What a file says of rosters, by team, and what of it cannot be kept. */
export type RostersRead = Schemas["RostersRead"];

const TEAM = "Team";
const OFF = "Off on";

/** All shifts as a table with commas, a row each; days off stand with every shift of their team. */
export function rostersAsCsv(study: StudyDocument): string {
  const rows = study.teams.flatMap((team) =>
    (team.roster ?? []).map((row) => [team.name, ...SHIFT_COLUMNS.map((column) => column.text(row)), (team.closed ?? []).join(" ")]),
  );
  return Papa.unparse([[TEAM, ...SHIFT_COLUMNS.map((column) => column.label), OFF], ...rows]);
}

/** The rosters in a table with commas, semicolons or tabs whose first row names its columns. */
export function rostersFromCsv(text: string, study: StudyDocument): RostersRead {
  const { data } = Papa.parse<string[]>(text.replace(/^\ufeff/, ""), { skipEmptyLines: "greedy", delimitersToGuess: [",", ";", "\t"] });
  const [head = [], ...lines] = data.map((row) => row.map((cell) => cell.trim()));
  const place = (label: string) => head.findIndex((cell) => cell.toLowerCase() === label.toLowerCase());
  const missing = [TEAM, ...SHIFT_COLUMNS.slice(0, 4).map((column) => column.label)].filter((label) => place(label) < 0);
  if (missing.length > 0)
    return { teams: [], lost: [`The first row has to name the columns; there is none called ${missing.join(", ")}.`] };
  const teams = new Map<string, RostersRead["teams"][number]>();
  const lost: string[] = [];
  lines.forEach((line, n) => {
    const cell = (label: string) => line[place(label)] ?? "";
    const team = study.teams.find((each) => each.name.toLowerCase() === cell(TEAM).toLowerCase());
    const read = team ? readRow(cell) : { problem: `There is no team “${cell(TEAM)}”.` };
    if (!team || "problem" in read) {
      lost.push(`Line ${n + 2}: ${"problem" in read ? read.problem : ""} It is left out.`);
      return;
    }
    const found = teams.get(team.id) ?? { team: team.id, roster: [], closed: [] };
    teams.set(team.id, { ...found, roster: [...found.roster, read.row], closed: [...new Set([...found.closed, ...read.off])].toSorted() });
  });
  return { teams: [...teams.values()], lost };
}

type Row = NonNullable<Team["roster"]>[number];

function readRow(cell: (label: string) => string): { row: Row; off: string[] } | { problem: string } {
  const row: Row = newShift();
  for (const column of SHIFT_COLUMNS) {
    const problem = column.put(row, cell(column.label));
    if (problem) return { problem };
  }
  const off = cell(OFF).split(/\s+/).filter(Boolean).map(parseDate);
  const bad = off.find((each) => "problem" in each);
  return bad && "problem" in bad ? bad : { row, off: off.flatMap((each) => ("value" in each ? [each.value] : [])) };
}

/** A row as it is written in a study: without what is so anyway. */
function written(row: Row): Row {
  const isSaid = ([key, value]: [string, unknown]) =>
    value != null && !(Array.isArray(value) && value.length === 0) && !(key === "paid" && value === true) && value !== "together";
  const said = <Part extends object>(part: Part) => Object.fromEntries(Object.entries(part).filter(isSaid)) as Part;
  return said({ ...row, breaks: row.breaks?.map(said) });
}

/** Puts what was read in place of the shifts of the teams that it is of. */
export function takeOver(study: StudyDocument, read: RostersRead): void {
  for (const { team: id, roster, closed } of read.teams) {
    const team = study.teams.find((each) => each.id === id);
    if (!team) continue;
    setRoster(team, roster.map(written));
    if (closed.length > 0) team.closed = closed;
    else delete team.closed;
  }
}
