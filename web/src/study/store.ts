import { produce } from "immer";
import { temporal } from "zundo";
import { create, useStore } from "zustand";
import type { Problem } from "../api/client";
import { RUN, type StudyDocument } from "./types";

export type Selection = { kind: "step" | "stream" | "team" | "type"; id: string } | null;
export type SaveState = "saved" | "changed" | "saving" | "unreachable" | "refused" | "conflict";

export interface Conflict {
  version: number;
  theirs: StudyDocument;
}

interface StudyState {
  id: number;
  version: number;
  document: StudyDocument;
  /** What the last edit did, in words; it names the undo. */
  lastEdit: string;
  selection: Selection;
  problems: Problem[];
  save: SaveState;
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
      problems: [],
      save: "saved",
      conflict: null,
    }),
    {
      partialize: ({ document, lastEdit }) => ({ document, lastEdit }),
      equality: (before, now) => before.document === now.document,
    },
  ),
);

export function open(id: number, version: number, document: StudyDocument, problems: Problem[], save: SaveState): void {
  useStudy.setState({ id, version, document, problems, save, selection: null, conflict: null, lastEdit: "" });
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

export function select(selection: Selection): void {
  useStudy.setState({ selection });
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
  const lists = { step: document.steps, stream: document.streams, team: document.teams, type: document.case_types };
  return lists[selection.kind].some((each) => each.id === selection.id);
}

/** The problems that are about one element, by its list's name and its id. */
export function problemsOf(problems: Problem[], part: string, id: string): Problem[] {
  const place = `${part}/${id}`;
  return problems.filter((problem) => problem.where === place || problem.where.startsWith(`${place}/`));
}
