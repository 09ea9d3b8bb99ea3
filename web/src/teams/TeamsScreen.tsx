import { useEffect, useMemo, useRef, useState } from "react";
import { partOf, useFindings, useRuns } from "../api/queries";
import { Sheet } from "../sheets/Sheet";
import type { PartKind } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { startOf } from "../study/document/types";
import { addPart } from "../study/session/adding";
import { select, useStudy } from "../study/session/store";
import { DAYS } from "../study/values/days";
import { round } from "../study/values/numbers";
import { wagesOfAll } from "../study/values/rosters";
import { LINK_BUTTON } from "../ui/Menu";
import { Board } from "./Board";
import { ClosingView } from "./ClosingView";
import { CopyDay } from "./CopyDay";
import { CostsView } from "./CostsView";
import { HeadcountGrid } from "./HeadcountGrid";
import { NeedsGrid } from "./NeedsGrid";
import { RosterFiles } from "./RosterFiles";
import { RosterImport } from "./RosterImport";
import { RosterTable } from "./RosterTable";
import type { RostersRead } from "./rosterFile";
import { TeamCoverage } from "./TeamCoverage";
import { type Chosen, type Preview, previewed, spanOf, type View } from "./views";

const BESIDE: PartKind[] = ["team"];

type Tab = "board" | "table" | "headcount" | "needs" | "costs" | "closing";

const TABS: [Tab, string][] = [
  ["board", "Board"],
  ["table", "Table of shifts"],
  ["headcount", "By the half hour"],
  ["needs", "Who does what"],
  ["costs", "Costs"],
  ["closing", "Closing time"],
];
const isOfShifts = (tab: Tab) => tab === "board" || tab === "table" || tab === "headcount";

/** Who is there when and what it costs: shifts on a time line, over them who is there beside what the work needs. */
export function TeamsScreen() {
  const study = useStudy((state) => state.document);
  const selection = useStudy((state) => state.selection);
  const sheet = useRef<HTMLElement>(null);
  const main = useRef<HTMLElement>(null);
  const [view, setView] = useState<View>(0);
  const [tab, setTab] = useState<Tab>("board");
  const [chosen, setChosen] = useState<Chosen[]>([]);
  const [preview, setPreview] = useState<Preview | null>(null);
  const [kept, setKept] = useState<string | undefined>();
  const shownTeam = selection?.kind === "team" ? selection.id : kept;
  const team = study.teams.find((each) => each.id === shownTeam) ?? study.teams[0];
  useEffect(() => {
    if (team && useStudy.getState().selection === null) select({ kind: "team", id: team.id });
    if (team) setKept(team.id);
  }, [team]);
  const shown = useMemo(() => previewed(study, preview), [study, preview]);
  const span = useMemo(() => spanOf(study, view), [study, view]);
  const choose = (of: string, how: (chosen: Chosen[]) => Chosen[]) => {
    setChosen(how);
    if (selection?.kind !== "team" || selection.id !== of) select({ kind: "team", id: of });
  };
  /** Shows another day; what is not seen any more is not chosen either. */
  const look = (next: View) => {
    setView(next);
    setChosen([]);
  };
  const overtime = useOvertime(study);
  const [importing, setImporting] = useState<{ file: string; read: RostersRead } | null>(null);
  const wages = wagesOfAll(startOf(study), shown.teams);
  return (
    <div className="flex h-full min-h-0">
      <main ref={main} className="flex min-w-0 flex-1 scroll-pb-16 flex-col overflow-y-auto px-5 pt-4">
        <h1 className="sr-only">Teams</h1>
        {importing && <RosterImport study={study} {...importing} onDone={() => setImporting(null)} />}
        {!importing && tab === "needs" && <NeedsGrid study={study} />}
        {!importing && tab === "costs" && <CostsView study={study} />}
        {!importing && tab === "closing" && (
          <>
            <Days view={dayOf(view)} onView={setView} only />
            <div className="h-3" />
            <ClosingView study={study} day={dayOf(view)} />
          </>
        )}
        {!importing && isOfShifts(tab) && (
          <div className="flex flex-wrap items-center gap-2">
            <Days view={view} onView={look} />
            {tab === "board" && view !== "week" && <CopyDay study={study} day={view} />}
            <span className="ml-auto text-ink-2">
              Wages by shifts <b className="text-ink">{round(wages)}</b> {study.currency ?? "EUR"} a week
            </span>
          </div>
        )}
        {!importing && isOfShifts(tab) && team && (
          <>
            <div className="sticky top-0 z-10 bg-paper pb-2 pt-3">
              <TeamCoverage study={study} shown={shown} team={team.id} view={view} span={span} />
            </div>
            {tab === "headcount" && <HeadcountGrid key={team.id} study={study} team={team.id} />}
            {tab === "table" && (
              <div className="min-h-72 flex-1 pb-2">
                <RosterTable study={study} team={team.id} />
              </div>
            )}
            {tab === "board" && (
              <Board study={shown} view={view} span={span} chosen={chosen} onChoose={choose} overtime={overtime} onPreview={setPreview} />
            )}
          </>
        )}
        {isOfShifts(tab) && !team && <p className="py-6 text-ink-2">Nobody works here yet. Add a team, and say who of it is there when.</p>}
        <div
          className="sticky bottom-0 z-10 mt-auto flex flex-wrap items-baseline gap-x-5 gap-y-1 border-t border-rule bg-paper py-3
            text-sm"
        >
          <div role="group" aria-label="View of the teams" className="flex flex-wrap gap-x-5">
            {TABS.map(([each, words]) => (
              <button
                key={each}
                type="button"
                aria-pressed={tab === each}
                className="border-b-2 border-transparent pb-0.5 text-ink-2 aria-pressed:border-ink aria-pressed:font-bold
                  aria-pressed:text-ink"
                onClick={() => {
                  setTab(each);
                  main.current?.scrollTo(0, 0);
                }}
              >
                {words}
              </button>
            ))}
          </div>
          <div className="ml-auto flex gap-4 whitespace-nowrap">
            {team && (tab === "board" || tab === "table") && (
              <RosterFiles study={study} team={team.id} onRead={(file, read) => setImporting({ file, read })} />
            )}
            <button type="button" className={LINK_BUTTON} onClick={() => addPart("team")}>
              Add a team
            </button>
          </div>
        </div>
      </main>
      <Sheet
        ref={sheet}
        beside={BESIDE}
        onLeave={() => main.current?.querySelector<HTMLElement>("[data-shift][aria-pressed=true], [data-shift]")?.focus()}
      />
    </div>
  );
}

const dayOf = (view: View) => (view === "week" ? 0 : view);

/** The days of the week, and all of them at once where that can be. */
function Days({ view, onView, only }: { view: View; onView: (view: View) => void; only?: boolean }) {
  const views: View[] = [...DAYS.map((_, n) => n), ...(only ? [] : ["week" as const])];
  return (
    <div role="group" aria-label="Day on the board" className="flex gap-1.5">
      {views.map((each) => (
        <button
          key={each}
          type="button"
          aria-pressed={each === view}
          className="rounded-md border border-rule px-2.5 py-1 text-sm font-semibold aria-pressed:border-ink aria-pressed:bg-ink
            aria-pressed:text-paper"
          onClick={() => onView(each)}
        >
          {each === "week" ? "Week" : DAYS[each]?.short}
        </button>
      ))}
    </div>
  );
}

/** What each team had of overtime pay a week in the last run, in words; null where there was none. */
function useOvertime(study: StudyDocument): (team: string) => string | null {
  const scenario = useStudy((state) => state.scenario);
  const run = useRuns(useStudy((state) => state.id)).data?.find((each) => partOf(each, scenario));
  const costs = useFindings(run, run && partOf(run, scenario)).data?.costs ?? [];
  return (team) => {
    const lines = costs.filter((line) => line.team === team && line.line.startsWith("overtime"));
    const aWeek = 7 * lines.reduce((sum, line) => sum + line.per_day, 0);
    return aWeek > 0 ? `overtime ${study.currency ?? "EUR"} ${round(aWeek)} a week in run ${run?.number}` : null;
  };
}
