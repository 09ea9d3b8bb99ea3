import { toast } from "sonner";
import { KIND_WORDS } from "../document/kinds";
import { idsOf, nameOf, type Selection } from "../document/parts";
import type { Step, StepKind } from "../document/types";
import { linksOf } from "../document/types";
import { asText, fromText, moveAfter, pasteAfter, type Stretch, stretchOf } from "../edits/clipboard";
import { deleteStep } from "../edits/links";
import { type AddedKind, branch, CONVERTIBLE, drawWay, insertAfter, insertBefore, insertFirst, insertOnly, turnInto } from "../edits/steps";
import { edit, select, useStudy } from "./store";

/** Brings the keyboard back to the map. */
export function focusMap(): void {
  window.document.querySelector<SVGGElement>('.line-map [role="button"][tabindex="0"]')?.focus();
}

function selectAndFocus(selection: Selection): void {
  select(selection);
  requestAnimationFrame(focusMap);
}

const showStep = (id: string) => selectAndFocus({ kind: "step", id });

/** Begins the flow of a study that has no steps. */
export function insertFirstStep(): void {
  showStep(edit("Insert the first step", insertOnly));
}

export function insertHere(kind: AddedKind): void {
  const { selection, document } = useStudy.getState();
  if (document.steps.length === 0) {
    insertFirstStep();
    return;
  }
  if (selection?.kind !== "stream" && selection?.kind !== "step") {
    toast("Select a step or a stream first.");
    return;
  }
  const act = selection.kind === "stream" ? insertFirst : insertAfter;
  const id = edit(`Insert a ${KIND_WORDS[kind].word}`, (study) => act(study, selection.id, kind));
  if (id) showStep(id);
  else toast(kind === "exit" ? "An exit ends a way: let the ways part, and lead one to it." : "Nothing can come after an exit.");
}

export function insertBeforeHere(kind: AddedKind): void {
  const { selection } = useStudy.getState();
  if (selection?.kind !== "step") return;
  const id = edit(`Insert a ${KIND_WORDS[kind].word}`, (study) => insertBefore(study, selection.id, kind));
  if (id) showStep(id);
}

export function branchHere(kind: AddedKind): void {
  const { selection } = useStudy.getState();
  if (selection?.kind !== "step") return;
  const id = edit("Part ways", (study) => branch(study, selection.id, kind));
  if (id) showStep(id);
  else toast("Nothing can come after an exit.");
}

function turnHere(kind: StepKind): void {
  const { selection } = useStudy.getState();
  if (selection?.kind !== "step") return;
  edit(`Turn into a ${KIND_WORDS[kind].word}`, (study) => {
    for (const id of idsOf(selection)) turnInto(study, id, kind);
  });
}

export function deleteHere(): void {
  const { selection, document } = useStudy.getState();
  if (selection?.kind !== "step") return;
  const ids = idsOf(selection);
  const before = document.steps.find((step) => !ids.includes(step.id) && linksOf(step).some((link) => link.to === selection.id));
  const what = ids.length > 1 ? `${ids.length} steps` : nameOf(document, "step", selection.id);
  const refused = edit(`Delete ${what}`, (study) => ids.map((id) => deleteStep(study, id)).find(Boolean));
  if (refused) toast(refused);
  if (before) showStep(before.id);
  else if (!refused) select(null);
}

let copied: Stretch | null = null;

/** Copies the selected steps with all their settings, for here and for other windows. */
export function copyHere(): void {
  const { selection, document } = useStudy.getState();
  if (selection?.kind !== "step") return;
  const stretch = stretchOf(document, idsOf(selection));
  if (stretch.steps.length === 0) {
    toast("Exits are not copied.");
    return;
  }
  copied = stretch;
  void navigator.clipboard?.writeText(asText(stretch)).catch(() => undefined);
  toast(`Copied ${stretch.steps.map((step) => step.name).join(", ")}. Ctrl V puts it in after what is selected then.`);
}

/** Puts what was copied in after the selected step or stream. */
export async function pasteHere(): Promise<void> {
  const text = await (navigator.clipboard?.readText() ?? Promise.resolve("")).catch(() => "");
  const stretch = fromText(text) ?? copied;
  const { selection, document } = useStudy.getState();
  if (!stretch) toast("There are no copied steps to put in.");
  else if (selection?.kind !== "step" && selection?.kind !== "stream") toast("Select the step that it is to come after.");
  else if (document.steps.find((step) => step.id === selection.id)?.kind === "exit") toast("Nothing can come after an exit.");
  else {
    const after = selection.kind === "step" ? { step: selection.id } : { stream: selection.id };
    const [id, ...also] = edit(`Put in ${stretch.steps[0]?.name}`, (study) => pasteAfter(study, stretch, after));
    if (id) selectAndFocus({ kind: "step", id, also });
  }
}

/** What is being asked for on the map: the end of a way, or the step that others are to come after. */
export type Asking = { what: "way" | "move"; ids: string[] } | null;

/** Answers what was asked for with a step. */
export function answer(asking: NonNullable<Asking>, target: string): void {
  const { document } = useStudy.getState();
  const [first = ""] = asking.ids;
  const to = nameOf(document, "step", target);
  const refused =
    asking.what === "way"
      ? edit(`A way from ${nameOf(document, "step", first)} to ${to}`, (study) => drawWay(study, first, target))
      : edit(`Move to after ${to}`, (study) => moveAfter(study, asking.ids, target));
  if (refused) toast(refused);
  const [id = first, ...also] = asking.ids;
  selectAndFocus({ kind: "step", id, also });
}

const OFFERED: AddedKind[] = ["serve", "delay", "signal", "choose", "fork", "gather", "scatter", "set"];

/** The kinds of step that can be put in, as items of a menu. */
export function insertItems(act: (kind: AddedKind) => void, key: string, toExit = false) {
  const items = OFFERED.map((kind) => ({
    label: KIND_WORDS[kind].offer,
    hint: kind === "serve" ? key : undefined,
    onChoose: () => act(kind),
  }));
  return toExit ? [...items, { label: "To a new exit", hint: undefined, onChoose: () => act("exit") }] : items;
}

/** The kinds that a step can be turned into, as items of a menu. */
export function turnItems(step: Step) {
  if (!CONVERTIBLE.includes(step.kind)) return [];
  return CONVERTIBLE.filter((kind) => kind !== step.kind).map((kind) => ({
    label: `Turn into: ${KIND_WORDS[kind].word}`,
    hint: undefined,
    onChoose: () => turnHere(kind),
  }));
}
