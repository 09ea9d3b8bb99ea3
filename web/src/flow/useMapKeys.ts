import type { RefObject } from "react";
import { toast } from "sonner";
import { isTyping } from "../app/useShortcuts";
import { branch, deleteStep, insertAfter, insertFirst } from "../study/edits";
import { stepById } from "../study/flow";
import { edit, select, useStudy } from "../study/store";
import type { AddedKind } from "../study/edits";
import { focusMap } from "./FlowScreen";

export function insertHere(kind: AddedKind): void {
  const { selection } = useStudy.getState();
  if (!selection) return;
  const id =
    selection.kind === "stream"
      ? edit("Insert a step", (study) => insertFirst(study, selection.id, kind))
      : edit("Insert a step", (study) => insertAfter(study, selection.id, kind));
  if (id) selectAndFocus(id);
  else toast("Nothing can come after an exit.");
}

export function branchHere(kind: AddedKind): void {
  const { selection } = useStudy.getState();
  if (selection?.kind !== "step") return;
  const id = edit("Part ways", (study) => branch(study, selection.id, kind));
  if (id) selectAndFocus(id);
  else toast("Nothing can come after an exit.");
}

export function deleteHere(): void {
  const { selection, document } = useStudy.getState();
  if (selection?.kind !== "step") return;
  const step = stepById(document, selection.id);
  const before = document.steps.find((each) => each.kind !== "exit" && each.next?.some((link) => link.to === selection.id));
  const refused = edit(`Delete ${step?.name}`, (study) => deleteStep(study, selection.id));
  if (refused) toast(refused);
  else if (before) selectAndFocus(before.id);
  else select(null);
}

function selectAndFocus(id: string): void {
  select({ kind: "step", id });
  requestAnimationFrame(focusMap);
}

/** Single keys that work on what is selected on the map. */
export function useMapKeys(sheet: RefObject<HTMLElement | null>) {
  return (event: React.KeyboardEvent) => {
    if (isTyping(event.target) || event.ctrlKey || event.metaKey || event.altKey) return;
    const key = event.key.toLowerCase();
    if (key === "n") insertHere("serve");
    else if (key === "b") branchHere("serve");
    else if (event.key === "Delete" || event.key === "Backspace") deleteHere();
    else if (key === "r" || event.key === "F2") {
      const name = sheet.current?.querySelector<HTMLInputElement>("input");
      name?.focus();
      name?.select();
    } else return;
    event.preventDefault();
  };
}
