import { produce } from "immer";
import { temporal } from "zundo";
import { create, useStore } from "zustand";
import type { Problem, Schemas } from "../../api/client";
import type { At } from "../document/addresses";
import { addressOf, idsOf, partsOf, type Selection } from "../document/parts";
import { RUN, type StudyDocument } from "../document/types";

export type { Selection } from "../document/parts";

export type SaveState = "saved" | "changed" | "saving" | "unreachable" | "refused" | "conflict";

export interface Conflict {
  version: number;
  theirs: StudyDocument;
  /** The changes of both sides together, mine where they clash; null where that makes no sense. */
  both: StudyDocument | null;
  clashes: string[];
  mineChanged: Schemas["Change"][];
  theirsChanged: Schemas["Change"][];
}

interface StudyState {
  id: number;
  version: number;
  document: StudyDocument;
  /** What the last edit did, in words; it names the undo. */
  lastEdit: string;
  selection: Selection;
  /** The field to be shown and focused next: unfolded where it is folded away. */
  wanted: At | null;
  problems: Problem[];
  save: SaveState;
  /** The older version that the next save brings back, if any. */
  restores: number | null;
  conflict: Conflict | null;
}

const EMPTY: StudyDocument = {
  name: "",
  case_types: [],
  streams: [],
  steps: [],
  teams: [],
  run: RUN,
};

/** The study that is open: its document with every edit undoable, what is selected, how saving stands. */
export const useStudy = create<StudyState>()(
  temporal(
    (): StudyState => ({
      id: 0,
      version: 0,
      document: EMPTY,
      lastEdit: "",
      selection: null,
      wanted: null,
      problems: [],
      save: "saved",
      restores: null,
      conflict: null,
    }),
    {
      partialize: ({ document, lastEdit }) => ({ document, lastEdit }),
      equality: (before, now) => before.document === now.document,
    },
  ),
);

export function open(id: number, version: number, document: StudyDocument, problems: Problem[], save: SaveState): void {
  useStudy.setState({ id, version, document, problems, save, restores: null, selection: null, conflict: null, lastEdit: "" });
  useStudy.temporal.getState().clear();
}

/** Changes the document; the label says what was done, for undo. Returns what the change returns. */
export function edit<Result>(label: string, change: (study: StudyDocument) => Result): Result {
  let result: Result | undefined;
  const { document } = useStudy.getState();
  const changed = produce(document, (draft: StudyDocument) => {
    result = change(draft);
  });
  if (changed !== document) useStudy.setState({ document: changed, lastEdit: label, save: "changed" });
  return result as Result;
}

/** Changes the document unless the change says what is wrong: then nothing of it is kept. */
export function attempt(label: string, change: (study: StudyDocument) => string | null): string | null {
  let problem: string | null = null;
  const { document } = useStudy.getState();
  const changed = produce(document, (draft: StudyDocument) => {
    problem = change(draft);
  });
  if (problem === null && changed !== document) useStudy.setState({ document: changed, lastEdit: label, save: "changed" });
  return problem;
}

export function select(selection: Selection): void {
  useStudy.setState({ selection, wanted: null });
}

/** Shows the study again, with the keyboard on the thing that was left. */
export function showInStudy(left: NonNullable<Selection>): void {
  useStudy.setState({ selection: null, wanted: addressOf(left) });
}

/** Adds a step to what is selected, or takes it out again. */
export function selectAlso(id: string): void {
  const { selection } = useStudy.getState();
  const chosen = selection?.kind === "step" ? idsOf(selection) : [];
  const [first, ...also] = chosen.includes(id) ? chosen.filter((each) => each !== id) : [...chosen, id];
  select(first === undefined ? null : { kind: "step", id: first, also });
}

export function useUndo() {
  const undoLabel = useStore(useStudy.temporal, (history) => (history.pastStates.length > 0 ? "any" : null));
  const label = useStudy((state) => state.lastEdit);
  const redoLabel = useStore(useStudy.temporal, (history) => history.futureStates.at(-1)?.lastEdit ?? null);
  return { undoLabel: undoLabel && label, redoLabel };
}

export function undo(): void {
  travel("undo");
}

export function redo(): void {
  travel("redo");
}

function travel(way: "undo" | "redo"): void {
  const before = useStudy.getState().document;
  useStudy.temporal.getState()[way]();
  const { document, selection } = useStudy.getState();
  if (document === before) return;
  useStudy.setState({ save: "changed", selection: stillThere(document, selection) ? selection : null });
}

function stillThere(document: StudyDocument, selection: Selection): boolean {
  if (!selection) return true;
  const known = new Set(partsOf(document, selection.kind).map((part) => part.id));
  return idsOf(selection).every((id) => known.has(id));
}

/** The problems that are at an address or inside what stands there. */
export function problemsAt(problems: Problem[], place: At): Problem[] {
  return problems.filter((problem) => problem.where === place || problem.where.startsWith(`${place}/`));
}
