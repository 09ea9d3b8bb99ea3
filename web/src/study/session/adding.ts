import { addressOf, PARTS, type PartKind } from "../document/parts";
import { makePart } from "../edits/making";
import { edit, select } from "./store";

/** Adds a new thing of a kind and shows its sheet, with its name ready to be typed over. */
export function addPart(kind: PartKind): void {
  const id = edit(`Add a ${PARTS[kind].word.toLowerCase()}`, (draft) => makePart(draft, kind));
  select({ kind, id }, `${addressOf({ kind, id })}/name`);
}
