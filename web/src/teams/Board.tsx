import { current } from "immer";
import { memo, type ReactNode, type RefObject, useEffect, useRef } from "react";
import { BackMark } from "../fields/TodayMark";
import type { StudyDocument, Team } from "../study/document/types";
import { startOf } from "../study/document/types";
import { newShift, split, takeAwayShift, toRoster } from "../study/edits/rosters";
import { todayRow } from "../study/scenarios/rows";
import { edit, editTeam, select, useToday } from "../study/session/store";
import { DAYS, daysInWords } from "../study/values/days";
import { round } from "../study/values/numbers";
import { paidHours, type RosterRow, shiftOf, wagesOf } from "../study/values/rosters";
import { LINK_BUTTON } from "../ui/Menu";
import type { Span } from "./coverage";
import { type Command, ShiftBar } from "./ShiftBar";
import { type Chosen, isAmong, type Preview, rowsIn, shiftInWords, type View } from "./views";

/** So far the wheel turns in one notch. */
const A_NOTCH = 40;

/** The columns of the board: names, time, wages. */
export const COLUMNS = "grid grid-cols-[9.5rem_1fr_5.5rem] items-center gap-x-3";

interface BoardProps {
  /** With what is dragged as it would be. */
  study: StudyDocument;
  view: View;
  span: Span;
  chosen: Chosen[];
  onChoose: (team: string, how: (chosen: Chosen[]) => Chosen[]) => void;
  /** What the last run had in overtime pay a week, by team. */
  overtime: (team: string) => string | null;
  onPreview: (preview: Preview | null) => void;
}

/** The teams with their shifts on a time line. */
export function Board({ study, view, span, chosen, onChoose, overtime, onPreview }: BoardProps) {
  const board = useRef<HTMLDivElement>(null);
  useWheel(board);
  const go = (by: number, also = false) => {
    const bars = [...(board.current?.querySelectorAll<HTMLElement>("[data-shift]") ?? [])];
    const next = bars[bars.indexOf(document.activeElement as HTMLElement) + by];
    const [team, row] = [next?.dataset.team ?? "", Number(next?.dataset.row)];
    if (next && also) onChoose(team, (now) => (isAmong(now, team, row) ? now : [...now, { team, row }]));
    next?.focus();
  };
  const hands = useRef<Hands>(null as unknown as Hands);
  hands.current = {
    go,
    onChoose,
    onPreview,
    together: (team, row) => (isAmong(chosen, team, row) ? chosen : [{ team, row }]),
  };
  return (
    <div ref={board} className="pb-6">
      {study.teams.map((team) => (
        <TeamSection
          key={team.id}
          team={team}
          start={startOf(study)}
          currency={study.currency ?? "EUR"}
          view={view}
          span={span}
          chosen={chosen
            .filter((each) => each.team === team.id)
            .map((each) => each.row)
            .join()}
          overtime={overtime(team.id)}
          hands={hands}
        />
      ))}
    </div>
  );
}

/** What a shift can ask of the board; behind a reference, so that teams that have not changed still do what is right now. */
interface Hands extends Pick<BoardProps, "onChoose" | "onPreview"> {
  go: (by: number, also?: boolean) => void;
  /** Those that are chosen where the one that is changed is among them, else that one alone. */
  together: (team: string, row: number) => Chosen[];
}

interface TeamSectionProps {
  team: Team;
  start: string;
  currency: string;
  view: View;
  span: Span;
  /** The numbers of its rows that are chosen, with commas. */
  chosen: string;
  overtime: string | null;
  hands: RefObject<Hands>;
}

/** A team with its shifts; drawn again only when something of it has changed, so that many follow a drag. */
const TeamSection = memo(function TeamSection({ team, start, currency, view, span, chosen, overtime, hands }: TeamSectionProps) {
  const rows = chosen.split(",");
  const told = [team.roster?.length ? `${round(paidHours(start, team.roster))} h a week` : null, overtime].filter(Boolean).join(", ");
  return (
    <section aria-label={team.name} className="border-t border-rule pb-2 pt-2.5">
      <div className="mb-1 flex items-baseline justify-between">
        <h2>
          <button type="button" className="font-bold hover:underline" onClick={() => select({ kind: "team", id: team.id })}>
            {team.name}
          </button>
        </h2>
        <span className="text-sm text-ink-2">{told}</span>
      </div>
      {rowsIn(team, view).map(({ row, n }) => {
        const one = { team: team.id, row: n };
        const together = () => hands.current.together(team.id, n);
        return (
          <BoardRow key={n} number={n} start={start} team={team} row={row} span={span} currency={currency}>
            <ShiftBar
              team={team}
              number={n}
              row={row}
              view={view}
              span={span}
              isChosen={rows.includes(String(n))}
              onChoose={(also) => hands.current.onChoose(team.id, (now) => choosing(now, one, also))}
              onFocus={() => hands.current.onChoose(team.id, (now) => (isAmong(now, team.id, n) ? now : [one]))}
              onPreview={(how) => hands.current.onPreview(how && { rows: together(), how })}
              onChange={(how, what) => replaceAll(together(), `${calledAll(together(), team, n)}: ${what}`, (each) => [how(each)])}
              onCommand={(command) => run(command, { team, n, rows: together(), go: hands.current.go, onChoose: hands.current.onChoose })}
            />
          </BoardRow>
        );
      })}
      <NothingHere team={team} view={view} />
    </section>
  );
});

interface BoardRowProps {
  number: number;
  start: string;
  team: Team;
  row: RosterRow;
  span: Span;
  currency: string;
  children: ReactNode;
}

function BoardRow({ number, start, team, row, span, currency, children }: BoardRowProps) {
  const wide = span.to - span.from;
  const every = wide > 2 * 1440 ? 1440 : 60;
  const lines = `repeating-linear-gradient(to right, var(--rule) 0 1px, transparent 1px ${(every / wide) * 100}%)`;
  return (
    <div className={`${COLUMNS} [contain-intrinsic-size:auto_2.75rem] [content-visibility:auto]`}>
      <span className="leading-tight">
        <b>
          {row.from}–{row.to}
        </b>
        <ShiftToday team={team} number={number} />
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
            <b className="block leading-tight">{round(wagesOf(start, team, [row]))}</b>
          </>
        ) : null}
        <span className="text-sm text-ink-2">{round(paidHours(start, [row]))} h</span>
      </span>
    </div>
  );
}

/** Marks a shift that the scenario seen has changed or added, with what it is today and the way back. */
function ShiftToday({ team, number }: { team: Team; number: number }) {
  const today = useToday()?.teams.find((each) => each.id === team.id);
  if (!today) return null;
  const rows = team.roster ?? [];
  const before = todayRow(rows, today.roster ?? [], number);
  if (before === rows[number]) return null;
  const goBack = () =>
    change(team, `${team.name}, shift ${number + 1} as today`, (changed) => {
      if (before) changed[number] = before;
      else changed.splice(number, 1);
    });
  const words = before ? shiftInWords(today, before) : "nothing";
  return <BackMark label={`Shift ${number + 1} of ${team.name}`} words={words} onBack={goBack} />;
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

/** Lets the wheel of the mouse change how many there are of the shifts that are chosen, as the keys + and − do. */
function useWheel(board: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const element = board.current;
    let turned = 0;
    const onWheel = (event: WheelEvent) => {
      const bar = (event.target as HTMLElement).closest("[data-team][aria-pressed=true]");
      if (!bar || event.ctrlKey) return;
      event.preventDefault();
      turned += event.deltaY;
      if (Math.abs(turned) < A_NOTCH) return;
      bar.dispatchEvent(new KeyboardEvent("keydown", { key: turned < 0 ? "+" : "-", bubbles: true }));
      turned = 0;
    };
    element?.addEventListener("wheel", onWheel, { passive: false });
    return () => element?.removeEventListener("wheel", onWheel);
  }, [board]);
}

/** The chosen shifts once one more is pointed at: it alone, or beside the others, or no longer among them. */
function choosing(now: Chosen[], one: Chosen, also: boolean): Chosen[] {
  if (!also) return [one];
  const others = now.filter((each) => each.team !== one.team || each.row !== one.row);
  return others.length < now.length && others.length > 0 ? others : [...others, one];
}

/** How undo calls a shift, or those that are changed with it. */
const calledAll = (rows: Chosen[], team: Team, n: number) => (rows.length > 1 ? `${rows.length} shifts` : `${team.name}, shift ${n + 1}`);

/** Puts others in place of each of some shifts, of one or of several teams, as one edit. */
function replaceAll(rows: Chosen[], what: string, how: (row: RosterRow) => RosterRow[]): void {
  edit(what, (draft) => {
    for (const team of draft.teams)
      if (rows.some((each) => each.team === team.id))
        team.roster = team.roster?.flatMap((row, n) => (isAmong(rows, team.id, n) ? how(current(row)) : [row]));
  });
}

/** Changes the shifts of a team as one edit. */
function change({ id }: Team, what: string, how: (rows: RosterRow[]) => void): void {
  editTeam(id, what, (team) => how((team.roster ??= [])));
}

interface Ran {
  team: Team;
  n: number;
  /** Those that the command is for, this one among them. */
  rows: Chosen[];
  go: (by: number, also?: boolean) => void;
  onChoose: BoardProps["onChoose"];
}

function run(command: Command, { team, n, rows, go, onChoose }: Ran): void {
  const row = team.roster?.[n];
  if (!row) return;
  const shift = calledAll(rows, team, n);
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
    case "also-next":
      go(1, true);
      break;
    case "also-previous":
      go(-1, true);
      break;
    case "all":
      onChoose(team.id, () => (team.roster ?? []).map((_, each) => ({ team: team.id, row: each })));
      break;
    case "alone":
      onChoose(team.id, () => [{ team: team.id, row: n }]);
      break;
    case "duplicate":
      replaceAll(rows, `Duplicate ${shift}`, (each) => [each, structuredClone(each)]);
      break;
    case "split": {
      const [begins, ends] = shiftOf(row);
      const middle = Math.round((begins + ends) / 2 / 15) * 15;
      change(team, `Split ${team.name}, shift ${n + 1}`, (all) => all.splice(n, 1, ...split(row, middle)));
      break;
    }
    case "remove":
      if (n + 1 === team.roster?.length) go(-1);
      edit(`Take away ${shift}`, (draft) => {
        const backwards = rows.toSorted((one, other) => other.row - one.row);
        for (const each of draft.teams)
          for (const gone of backwards) if (gone.team === each.id && each.roster) takeAwayShift(each, gone.row);
      });
      onChoose(team.id, () => []);
  }
}
