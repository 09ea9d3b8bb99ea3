import { freshName } from "../scenarios/commands";
import type { StudyDocument, Team } from "../study/document/types";
import { freshId } from "../study/edits/links";
import { applied, type Scenario, scenarioOf, withScenarioAs } from "../study/scenarios/scenarios";
import { editWhole, useStudy } from "../study/session/store";
import type { RosterRow } from "../study/values/rosters";
import type { Changed as Looked } from "./looked";

type Changed = Pick<Looked, "teams" | "levers">;
type Staffing = { roster: RosterRow[] } | { size: number };

/** Puts what was found into the study as a scenario, on top of the one that was searched, which is still seen. Returns it. */
export function makeScenario(name: string, about: string, changed: Changed, searched: string): { id: string; name: string } {
  const { whole } = useStudy.getState();
  const taken = whole.scenarios ?? [];
  const called = freshName(name, taken);
  const id = freshId(called, taken);
  editWhole(`Make the scenario ${called}`, (study) => {
    study.scenarios = scenariosWith(whole, { id, name: called, about, levers: {}, changes: [] }, changed, searched);
  });
  return { id, name: called };
}

/** The scenarios of a study and one more, that differs from the searched one in what was found. */
export function scenariosWith(whole: StudyDocument, fresh: Scenario, changed: Changed, searched: string): Scenario[] {
  const source = scenarioOf(whole, searched);
  const moved = { ...fresh, levers: { ...source?.levers, ...changed.levers }, changes: structuredClone(source?.changes ?? []) };
  const next = { ...whole, scenarios: [...(whole.scenarios ?? []), moved] };
  if (Object.keys(changed.teams).length === 0) return next.scenarios;
  const { document } = applied(next, moved);
  const shown = { ...document, teams: document.teams.map((team) => staffed(team, changed.teams[team.id] as Staffing | undefined)) };
  return withScenarioAs(next, moved.id, shown).scenarios ?? [];
}

function staffed(team: Team, staffing: Staffing | undefined): Team {
  if (!staffing) return team;
  const { roster: _, size: __, ...rest } = team;
  if ("size" in staffing) return { ...rest, size: staffing.size };
  return staffing.roster.length > 0 ? { ...rest, roster: staffing.roster } : { ...rest, size: 0 };
}
