import type { StudyDocument, Team } from "../study/document/types";
import { newShift, takeAwayShift } from "../study/edits/rosters";
import { todayRow } from "../study/scenarios/rows";
import { attempt, select, useToday } from "../study/session/store";
import type { RosterRow } from "../study/values/rosters";
import { Grid, type GridColumn } from "../ui/Grid";
import type { Put } from "../ui/gridText";
import { SHIFT_COLUMNS } from "./rosterColumns";

const TEAM = "team";
/** So many rows stay free below the shifts, for what is typed or pasted there. */
const FREE = 10;

const HEADS: GridColumn[] = [
  { id: TEAM, label: "Team", name: "Team", width: 140 },
  ...SHIFT_COLUMNS.map(({ id, label, width, numbers }) => ({ id, label, name: label, width, numbers })),
];

interface RosterTableProps {
  study: StudyDocument;
  /** The team that a shift is of where none is said. */
  team: string;
}

/** All shifts as a table that is filled in like a spreadsheet; whoever is always there has none. */
export function RosterTable({ study, team }: RosterTableProps) {
  const shifts = study.teams.flatMap((each) => (each.roster ?? []).map((row, n) => ({ team: each, row, n })));
  const whole = useToday();
  const before = (row: number): RosterRow | null => {
    const [shift, today] = [shifts[row], whole?.teams.find((each) => each.id === shifts[row]?.team.id)];
    return shift && today ? todayRow(shift.team.roster ?? [], today.roster ?? [], shift.n) : null;
  };
  const put = (puts: Put[]) => attempt("Fill the table of shifts", (draft) => putAll(draft, shifts, puts, team));
  return (
    <Grid
      label="Shifts"
      corner=""
      labelWidth={30}
      rows={Array.from({ length: shifts.length + FREE }, (_, n) => ({
        id: `${n}`,
        label: n + 1,
        name: shifts[n] ? `${shifts[n]?.team.name}, shift ${(shifts[n]?.n ?? 0) + 1}` : "A new shift",
      }))}
      columns={HEADS}
      text={(row, column) => {
        const shift = shifts[row];
        if (!shift) return "";
        return column === 0 ? shift.team.name : (SHIFT_COLUMNS[column - 1]?.text(shift.row) ?? "");
      }}
      today={(row, column) => {
        const [shift, today] = [shifts[row], before(row)];
        const text = today && column > 0 ? (SHIFT_COLUMNS[column - 1]?.text(today) ?? null) : null;
        return shift && text !== SHIFT_COLUMNS[column - 1]?.text(shift.row) ? text : null;
      }}
      onPut={put}
      onArea={(area) => shifts[area.top] && select({ kind: "team", id: shifts[area.top]?.team.id ?? team })}
    />
  );
}

/** Takes over what was typed or pasted: cells of shifts that there are, and new shifts below them. Says what is wrong. */
function putAll(draft: StudyDocument, shifts: { team: Team; n: number }[], puts: Put[], usual: string): string | null {
  const rows = shifts.map(({ team, n }) => draft.teams.find((each) => each.id === team.id)?.roster?.[n]);
  for (const row of [...new Set(puts.map((each) => each.row))].toSorted((one, other) => one - other)) {
    const cells = puts.filter((each) => each.row === row);
    const shift = rows[row];
    if (!shift && cells.every(({ text }) => text.trim() === "")) continue;
    const problem = shift ? putCells(draft, shift, cells) : putNew(draft, cells, usual);
    if (problem) return problem;
  }
  return null;
}

function putNew(draft: StudyDocument, cells: Put[], usual: string): string | null {
  const team = draft.teams.find((each) => each.id === usual);
  if (!team) return "Add a team first.";
  const row = newShift();
  delete team.size;
  (team.roster ??= []).push(row);
  return putCells(draft, team.roster.at(-1) as RosterRow, cells);
}

function putCells(draft: StudyDocument, row: RosterRow, cells: Put[]): string | null {
  for (const { column, text } of cells) {
    const problem = column === 0 ? toTeam(draft, row, text) : (SHIFT_COLUMNS[column - 1]?.put(row, text) ?? null);
    if (problem) return problem;
  }
  return null;
}

/** Gives a shift to the team that is called so; without a name it is taken away. */
function toTeam(draft: StudyDocument, row: RosterRow, name: string): string | null {
  const wanted = name.trim().toLowerCase();
  const target = draft.teams.find((team) => team.name.toLowerCase() === wanted);
  if (wanted && !target) return `There is no team “${name.trim()}”. Known are ${draft.teams.map((team) => team.name).join(", ")}.`;
  const own = draft.teams.find((team) => team.roster?.includes(row));
  if (own === target) return null;
  if (own?.roster) takeAwayShift(own, own.roster.indexOf(row));
  if (target) {
    delete target.size;
    (target.roster ??= []).push(row);
  }
  return null;
}
