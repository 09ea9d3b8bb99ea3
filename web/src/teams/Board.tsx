import { type ReactNode, useRef } from "react";
import type { StudyDocument, Team } from "../study/document/types";
import { startOf } from "../study/document/types";
import { newShift, split, takeAwayShift, toRoster } from "../study/edits/rosters";
import { editTeam, select } from "../study/session/store";
import { DAYS, daysInWords } from "../study/values/days";
import { round } from "../study/values/numbers";
import { paidHours, type RosterRow, shiftOf, wagesOf } from "../study/values/rosters";
import { LINK_BUTTON } from "../ui/Menu";
import type { Span } from "./coverage";
import { type Command, ShiftBar } from "./ShiftBar";
import { type Preview, rowsIn, type View } from "./views";

/** The columns of the board: names, time, wages. */
export const COLUMNS = "grid grid-cols-[9.5rem_1fr_5.5rem] items-center gap-x-3";

export interface Chosen {
  team: string;
  row: number;
}

interface BoardProps {
  /** With what is dragged as it would be. */
  study: StudyDocument;
  view: View;
  span: Span;
  chosen: Chosen | null;
  onChoose: (chosen: Chosen) => void;
  onPreview: (preview: Preview | null) => void;
}

/** The teams with their shifts on a time line. */
export function Board({ study, view, span, chosen, onChoose, onPreview }: BoardProps) {
  const start = startOf(study);
  const board = useRef<HTMLDivElement>(null);
  const go = (by: number) => {
    const bars = [...(board.current?.querySelectorAll<HTMLElement>("[data-shift]") ?? [])];
    bars[bars.indexOf(document.activeElement as HTMLElement) + by]?.focus();
  };
  return (
    <div ref={board} className="pb-6">
      {study.teams.map((team) => (
        <section key={team.id} aria-label={team.name} className="border-t border-rule pb-2 pt-2.5">
          <div className="mb-1 flex items-baseline justify-between">
            <h2>
              <button type="button" className="font-bold hover:underline" onClick={() => select({ kind: "team", id: team.id })}>
                {team.name}
              </button>
            </h2>
            <span className="text-sm text-ink-2">{team.roster?.length ? `${round(paidHours(start, team.roster))} h a week` : ""}</span>
          </div>
          {rowsIn(team, view).map(({ row, n }) => (
            <BoardRow key={n} start={start} team={team} row={row} span={span} currency={study.currency ?? "EUR"}>
              <ShiftBar
                team={team}
                row={row}
                view={view}
                span={span}
                isChosen={chosen?.team === team.id && chosen.row === n}
                onChoose={() => onChoose({ team: team.id, row: n })}
                onPreview={(as) => onPreview(as && { team: team.id, row: n, as })}
                onChange={(next, what) => change(team, `${team.name}, shift ${n + 1}: ${what}`, (rows) => rows.splice(n, 1, next))}
                onCommand={(command) => run(command, team, n, go)}
              />
            </BoardRow>
          ))}
          <NothingHere team={team} view={view} />
        </section>
      ))}
    </div>
  );
}

interface BoardRowProps {
  start: string;
  team: Team;
  row: RosterRow;
  span: Span;
  currency: string;
  children: ReactNode;
}

function BoardRow({ start, team, row, span, currency, children }: BoardRowProps) {
  const wide = span.to - span.from;
  const every = wide > 2 * 1440 ? 1440 : 60;
  const lines = `repeating-linear-gradient(to right, var(--rule) 0 1px, transparent 1px ${(every / wide) * 100}%)`;
  return (
    <div className={`${COLUMNS} [contain-intrinsic-size:auto_2.75rem] [content-visibility:auto]`}>
      <span className="leading-tight">
        <b>
          {row.from}–{row.to}
        </b>
        <span className="block text-sm text-ink-2">
          {daysInWords(row.days, "short")}
          {row.from_date && ` from ${row.from_date}`}
          {row.to_date && ` until ${row.to_date}`}
        </span>
      </span>
      <div className="relative h-10" style={{ backgroundImage: lines }}>
        {children}
      </div>
      <span className="text-right">
        {team.rate ? (
          <>
            <span className="sr-only">{currency} a week </span>
            <b>{round(wagesOf(start, team, [row]))}</b>
          </>
        ) : (
          <span className="text-sm text-ink-2">{round(paidHours(start, [row]))} h</span>
        )}
      </span>
    </div>
  );
}

/** What stands under a team that has no shift in this view: that it is always there, or when else it comes; and a shift to add. */
function NothingHere({ team, view }: { team: Team; view: View }) {
  const add = () => {
    const day = view === "week" ? undefined : DAYS[view]?.id;
    const isWorkday = day === undefined || view === "week" || view < 5;
    change(team, `${team.name}: one more shift`, (rows) => rows.push(newShift(isWorkday || !day ? undefined : [day])));
  };
  if (!team.roster?.length) {
    const turn = () => editTeam(team.id, `${team.name}: by shifts`, toRoster);
    return (
      <p className="flex flex-wrap items-baseline gap-x-4 text-ink-2">
        {team.size ?? 1}, always there
        <button type="button" className={LINK_BUTTON} onClick={turn}>
          Let them come by shifts
        </button>
      </p>
    );
  }
  return (
    <p className="flex flex-wrap items-baseline gap-x-4 text-sm text-ink-2">
      {rowsIn(team, view).length === 0 && "nobody on this day"}
      <button type="button" className={LINK_BUTTON} onClick={add}>
        Add a shift
      </button>
    </p>
  );
}

/** Changes the shifts of a team as one edit. */
function change({ id }: Team, what: string, how: (rows: RosterRow[]) => void): void {
  editTeam(id, what, (team) => how((team.roster ??= [])));
}

function run(command: Command, team: Team, n: number, go: (by: number) => void): void {
  const row = team.roster?.[n];
  if (!row) return;
  const shift = `${team.name}, shift ${n + 1}`;
  switch (command) {
    case "open":
      select({ kind: "team", id: team.id }, `teams/${team.id}/roster/${n}/people`);
      break;
    case "next":
      go(1);
      break;
    case "previous":
      go(-1);
      break;
    case "duplicate":
      change(team, `Duplicate ${shift}`, (rows) => rows.splice(n + 1, 0, structuredClone(row)));
      break;
    case "split": {
      const [begins, ends] = shiftOf(row);
      const middle = Math.round((begins + ends) / 2 / 15) * 15;
      change(team, `Split ${shift}`, (rows) => rows.splice(n, 1, ...split(row, middle)));
      break;
    }
    case "remove":
      if (n + 1 === team.roster?.length) go(-1);
      editTeam(team.id, `Take away ${shift}`, (draft) => takeAwayShift(draft, n));
  }
}
