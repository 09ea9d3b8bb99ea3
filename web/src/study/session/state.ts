import type { Problem, Schemas } from "../../api/client";
import type { At } from "../document/addresses";
import { idsOf, partsOf, type Selection } from "../document/parts";
import { RUN, type StudyDocument } from "../document/types";
import { seenIn, withScenarioAs } from "../scenarios/scenarios";

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
  /** The study as it is saved: as it is today, with its scenarios. */
  whole: StudyDocument;
  /** The scenario that is seen and edited; null for the study as it is today. */
  scenario: string | null;
  /** The study as the scenario has it: what every screen shows and changes. */
  document: StudyDocument;
  /** What the last edit did, in words; it names the undo. */
  lastEdit: string;
  /** The scenario in which the last edit was made. */
  editedIn: string | null;
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
  whole: EMPTY,
  scenario: null,
  document: EMPTY,
  lastEdit: "",
  editedIn: null,
  selection: null,
  wanted: null,
  problems: [],
  save: "saved",
  restores: null,
  conflict: null,
};

/**
 * What can happen to the study that is open. What is told of a document carries it: of an older one, it is not believed. Edits are of
 * what is seen, or of the `whole`, where afterwards another scenario may be seen.
 */
export type Happening =
  | { type: "opened"; id: number; version: number; document: StudyDocument; problems: Problem[]; save: SaveState }
  | { type: "edited"; document: StudyDocument; label: string }
  | { type: "rewritten"; whole: StudyDocument; scenario: string | null; label: string }
  | { type: "chosen"; scenario: string | null }
  | { type: "travelled"; from: StudyDocument; to: string | null }
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
      return { ...NOTHING_OPEN, ...opened, whole: event.document };
    }
    case "edited": {
      if (event.document === state.document) return state;
      const whole = state.scenario === null ? event.document : withScenarioAs(state.whole, state.scenario, event.document);
      return rewritten(state, whole, state.scenario, event.label);
    }
    case "rewritten":
      return event.whole === state.whole ? state : rewritten(state, event.whole, event.scenario, event.label);
    case "chosen":
      return event.scenario === state.scenario ? state : seen(state, event.scenario);
    case "travelled":
      return state.whole === event.from ? state : { ...seen(state, event.to), save: "changed" };
    case "selected":
      return { ...state, selection: event.selection, wanted: event.wanted };
    case "restoring":
      return { ...state, restores: event.version };
    case "saving":
      return { ...state, save: "saving" };
    case "saved": {
      const told = event.of === state.document ? { problems: event.problems } : {};
      return { ...state, version: event.version, restores: null, ...told, save: event.of === state.whole ? "saved" : "changed" };
    }
    case "refused":
      return { ...state, save: "refused", ...(event.of === state.whole ? { problems: event.problems } : {}) };
    case "unreachable":
      return { ...state, save: "unreachable" };
    case "conflicted":
      return { ...state, save: "conflict", conflict: event.conflict };
    case "resolved": {
      if (!state.conflict) return state;
      const { version } = state.conflict;
      return { ...rewritten(state, event.document, state.scenario, event.label), version, conflict: null };
    }
    case "checked":
      return event.of === state.document ? { ...state, problems: event.problems } : state;
  }
}

/** The study with another scenario seen; without it, as it is today. */
function seen(state: StudyState, wanted: string | null): StudyState {
  const { scenario, document } = seenIn(state.whole, wanted);
  return { ...state, scenario, document, selection: stillThere(document, state.selection) ? state.selection : null };
}

/** The study after an edit of the whole, after which a scenario of it is seen. */
function rewritten(state: StudyState, whole: StudyDocument, wanted: string | null, label: string): StudyState {
  const { scenario, document } = seenIn(whole, wanted);
  return { ...state, whole, scenario, document, lastEdit: label, editedIn: scenario, save: "changed" };
}

function stillThere(document: StudyDocument, selection: Selection): boolean {
  if (!selection) return true;
  const known = new Set(partsOf(document, selection.kind).map((part) => part.id));
  return idsOf(selection).every((id) => known.has(id));
}
