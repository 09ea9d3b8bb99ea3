import type { Problem, Schemas } from "../../api/client";
import type { At } from "../document/addresses";
import { idsOf, partsOf, type Selection } from "../document/parts";
import { RUN, type StudyDocument } from "../document/types";

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

export interface StudyState {
  id: number;
  version: number;
  document: StudyDocument;
  /** What the last edit did, in words; it names the undo. */
  lastEdit: string;
  selection: Selection;
  /** The field to be shown and focused next: unfolded where it is folded away. */
  wanted: At | null;
  /** What is wrong or doubtful in the document, as far as it has been told. */
  problems: Problem[];
  save: SaveState;
  /** The older version that the next save brings back, if any. */
  restores: number | null;
  conflict: Conflict | null;
}

const EMPTY: StudyDocument = { name: "", case_types: [], streams: [], steps: [], teams: [], run: RUN };

export const NOTHING_OPEN: StudyState = {
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
};

/** What can happen to the study that is open. What is told of a document carries it: of an older one, it is not believed. */
export type Happening =
  | { type: "opened"; id: number; version: number; document: StudyDocument; problems: Problem[]; save: SaveState }
  | { type: "edited"; document: StudyDocument; label: string }
  | { type: "travelled"; from: StudyDocument }
  | { type: "selected"; selection: Selection; wanted: At | null }
  | { type: "restoring"; version: number }
  | { type: "saving" }
  | { type: "saved"; of: StudyDocument; version: number; problems: Problem[] }
  | { type: "refused"; of: StudyDocument; problems: Problem[] }
  | { type: "unreachable" }
  | { type: "conflicted"; conflict: Conflict }
  | { type: "resolved"; document: StudyDocument; label: string }
  | { type: "checked"; of: StudyDocument; problems: Problem[] };

/** The study after something has happened to it. */
export function after(state: StudyState, event: Happening): StudyState {
  switch (event.type) {
    case "opened": {
      const { type: _, ...opened } = event;
      return { ...NOTHING_OPEN, ...opened };
    }
    case "edited":
      return event.document === state.document ? state : { ...state, document: event.document, lastEdit: event.label, save: "changed" };
    case "travelled":
      if (state.document === event.from) return state;
      return { ...state, save: "changed", selection: stillThere(state.document, state.selection) ? state.selection : null };
    case "selected":
      return { ...state, selection: event.selection, wanted: event.wanted };
    case "restoring":
      return { ...state, restores: event.version };
    case "saving":
      return { ...state, save: "saving" };
    case "saved": {
      const isCurrent = event.of === state.document;
      const told = isCurrent ? { problems: event.problems, save: "saved" as const } : { save: "changed" as const };
      return { ...state, version: event.version, restores: null, ...told };
    }
    case "refused":
      return { ...state, save: "refused", ...(event.of === state.document ? { problems: event.problems } : {}) };
    case "unreachable":
      return { ...state, save: "unreachable" };
    case "conflicted":
      return { ...state, save: "conflict", conflict: event.conflict };
    case "resolved": {
      if (!state.conflict) return state;
      const { version } = state.conflict;
      return { ...state, version, conflict: null, document: event.document, lastEdit: event.label, save: "changed" };
    }
    case "checked":
      return event.of === state.document ? { ...state, problems: event.problems } : state;
  }
}

function stillThere(document: StudyDocument, selection: Selection): boolean {
  if (!selection) return true;
  const known = new Set(partsOf(document, selection.kind).map((part) => part.id));
  return idsOf(selection).every((id) => known.has(id));
}
