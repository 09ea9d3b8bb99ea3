import { type At, differ, keysOf, setAt, valueAt, within } from "../study/document/addresses";
import { nameOf, PARTS, type PartKind, partAt, partsOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { edit, useStudy } from "../study/session/store";

export interface Field<Value> {
  value: Value | undefined;
  /** Whether several elements are edited at once and differ here. */
  various: boolean;
  set: (value: Value, what?: string) => void;
  /** Takes it out of the study; told, where given, as what then holds. */
  clear: (holds?: unknown) => void;
}

/** What stands at an address of the open study, and how to change it. */
export function useField<Value>(at: At): Field<Value> {
  const value = useStudy((state) => valueAt(state.document, at)) as Value | undefined;
  const various = useStudy((state) => differ(state.document, at));
  return {
    value,
    various,
    set: (next, what) => write(at, next, what),
    clear: (holds) => write(at, undefined, holds === undefined ? undefined : editName(useStudy.getState().document, at, value, holds)),
  };
}

/** Writes a value at an address as an edit of its own; undefined takes it away. */
export function write(at: At, value: unknown, what?: string): void {
  const { document } = useStudy.getState();
  edit(what ?? editName(document, at, valueAt(document, at), value), (study) => setAt(study, at, value));
}

/** How undo calls an edit: the thing, the place in it, and what became of it. */
function editName(study: StudyDocument, at: At, before: unknown, value: unknown): string {
  const part = partAt(at);
  const key = keysOf(at).findLast((each) => !/^\d+$/.test(each)) ?? "";
  const place = called(study, key).replaceAll("_", " ");
  const several = part?.id.includes(",") ? `${part.id.split(",").length} steps` : null;
  const subject = several ?? (part ? nameOf(study, part.kind, part.id) : (nameAround(study, at) ?? "Study"));
  if (key === "name") return `Rename ${subject} to ${value}`;
  if (value === undefined) return `${subject}: no ${place}`;
  if (typeof value === "object") return `${subject}: ${place}`;
  const was = before === undefined || typeof before === "object" ? "" : `${called(study, before)} → `;
  return `${subject}: ${place} ${was}${called(study, value)}`;
}

/** The name of what an address is in, where that has one and is no part that opens in the sheet. */
function nameAround(study: StudyDocument, at: At): string | undefined {
  const [list = "", id] = keysOf(at);
  return id ? (valueAt(study, within(list, id)) as { name?: string } | undefined)?.name : undefined;
}

/** A value as it is called where it is the id of something in the study. */
export function called(study: StudyDocument, value: unknown): string {
  const parts = (Object.keys(PARTS) as PartKind[]).flatMap((kind) => partsOf(study, kind));
  return parts.find((part) => part.id === value)?.name ?? String(value);
}
