import { produce } from "immer";
import { temporal } from "zundo";
import { create, useStore } from "zustand";
import type { Problem } from "../../api/client";
import type { At } from "../document/addresses";
import { addressOf, idsOf, type Selection } from "../document/parts";
import type { StudyDocument, Team } from "../document/types";
import { dropStaleSources } from "../edits/sources";
import { after, type Happening, NOTHING_OPEN, type SaveState, type StudyState } from "./state";

export type { Selection } from "../document/parts";

/** The study that is open: its document with every edit undoable, what is selected, how saving stands. */
export const useStudy = create<StudyState>()(
  temporal(() => NOTHING_OPEN, {
    partialize: ({ whole, lastEdit, editedIn }) => ({ whole, lastEdit, editedIn }),
    equality: (before, now) => before.whole === now.whole,
  }),
);

/** Lets something happen to the study that is open: the one way in which it changes. */
export function happen(event: Happening): void {
  useStudy.setState((state) => after(state, event));
}

export function open(id: number, version: number, document: StudyDocument, problems: Problem[], save: SaveState): void {
  happen({ type: "opened", id, version, document, problems, save });
  useStudy.temporal.getState().clear();
}

/** Changes the document; the label says what was done, for undo. Returns what the change returns. */
export function edit<Result>(label: string, change: (study: StudyDocument) => Result): Result {
  const { document, result } = changed(change);
  happen({ type: "edited", document, label });
  return result;
}

/** Changes the study as it is saved, whatever scenario is seen; afterwards the given one is. */
export function editWhole<Result>(
  label: string,
  change: (study: StudyDocument) => Result,
  scenario = useStudy.getState().scenario,
): Result {
  const { document: whole, result } = changed(change, useStudy.getState().whole);
  happen({ type: "rewritten", whole, scenario, label });
  return result;
}

/** Shows the study as a scenario has it, or as it is today: every edit is of that one. */
export const choose = (scenario: string | null) => happen({ type: "chosen", scenario });

/** Changes a team of the document. */
export function editTeam(id: string, label: string, change: (team: Team) => void): void {
  edit(label, (study) => {
    const team = study.teams.find((each) => each.id === id);
    if (team) change(team);
  });
}

/** Changes the document unless the change says what is wrong: then nothing of it is kept. */
export function attempt(label: string, change: (study: StudyDocument) => string | null): string | null {
  const { document, result } = changed(change);
  if (result === null) happen({ type: "edited", document, label });
  return result;
}

function changed<Result>(
  change: (study: StudyDocument) => Result,
  before = useStudy.getState().document,
): { document: StudyDocument; result: Result } {
  let result: Result | undefined;
  const document = produce(before, (draft: StudyDocument) => {
    result = change(draft);
  });
  return { document: dropStaleSources(before, document), result: result as Result };
}

/** Selects a thing, or nothing; where an address is given, its field is shown and focused next. */
export function select(selection: Selection, wanted: At | null = null): void {
  happen({ type: "selected", selection, wanted });
}

/** Shows the study again, with the keyboard on the thing that was left. */
export function showInStudy(left: NonNullable<Selection>): void {
  select(null, addressOf(left));
}

/** Adds a step to what is selected, or takes it out again. */
export function selectAlso(id: string): void {
  const { selection } = useStudy.getState();
  const chosen = selection?.kind === "step" ? idsOf(selection) : [];
  const [first, ...also] = chosen.includes(id) ? chosen.filter((each) => each !== id) : [...chosen, id];
  select(first === undefined ? null : { kind: "step", id: first, also });
}

/** What undo and redo would do, in words; null where there is nothing to undo or redo. */
/** The study as it is today, while a scenario of it is seen; null where that is what is seen. */
export const useToday = () => useStudy((state) => (state.scenario === null ? null : state.whole));

export function useUndo() {
  const canUndo = useStore(useStudy.temporal, (history) => history.pastStates.length > 0);
  const redoLabel = useStore(useStudy.temporal, (history) => history.futureStates.at(-1)?.lastEdit ?? null);
  const lastEdit = useStudy((state) => state.lastEdit);
  return { undoLabel: canUndo ? lastEdit : null, redoLabel };
}

export const undo = () => travel("undo");

export const redo = () => travel("redo");

/** Goes back or forth, to where the edit was made. */
function travel(way: "undo" | "redo"): void {
  const { whole: from, editedIn } = useStudy.getState();
  useStudy.temporal.getState()[way]();
  happen({ type: "travelled", from, to: way === "undo" ? editedIn : useStudy.getState().editedIn });
}

/** The problems that are at an address or inside what stands there. */
export function problemsAt(problems: Problem[], place: At): Problem[] {
  return problems.filter((problem) => problem.where === place || problem.where.startsWith(`${place}/`));
}
