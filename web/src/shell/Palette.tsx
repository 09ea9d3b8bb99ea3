import { Command } from "cmdk";
import { Dialog } from "radix-ui";
import { useRef } from "react";
import { useNavigate } from "react-router";
import { useSizeTeam } from "../sizing/useSizeTeam";
import { PARTS, type PartKind, partsOf } from "../study/document/parts";
import { addPart } from "../study/session/adding";
import {
  branchHere,
  copyHere,
  deleteHere,
  insertBeforeHere,
  insertHere,
  insertItems,
  pasteHere,
  turnItems,
} from "../study/session/commands";
import { redo, type Selection, select, undo, useStudy } from "../study/session/store";
import { STAGES } from "./Rail";
import { chooseTheme } from "./theme";

interface PaletteProps {
  open: boolean;
  onClose: () => void;
  onRun: () => void;
  onKeys: () => void;
}

interface Thing {
  text: string;
  kind: string;
  act: () => void;
}

/** All that can be found and done: every thing of the study, every stage, every command. */
function useThings({ onRun, onKeys }: Pick<PaletteProps, "onRun" | "onKeys">): Thing[] {
  const navigate = useNavigate();
  const id = useStudy((state) => state.id);
  const study = useStudy((state) => state.document);
  const selection = useStudy((state) => state.selection);
  const size = useSizeTeam();
  const go = (stage: string) => () => void navigate(`/studies/${id}/${stage}`);
  const show = (next: Selection) => () => {
    go("flow")();
    select(next);
  };
  const added = (kind: PartKind) => () => {
    go("flow")();
    addPart(kind);
  };
  const kinds = Object.keys(PARTS) as PartKind[];
  const parts = kinds.flatMap((kind) =>
    partsOf(study, kind).map((part): Thing => ({ text: part.name, kind: PARTS[kind].word, act: show({ kind, id: part.id }) })),
  );
  const makes = kinds
    .filter((kind) => kind !== "step")
    .map((kind): Thing => ({ text: `Add a ${PARTS[kind].word.toLowerCase()}`, kind: "Do", act: added(kind) }));
  return [
    ...parts,
    ...STAGES.map((stage): Thing => ({ text: stage.name, kind: "Go to", act: go(stage.path) })),
    { text: "Watch it", kind: "Go to", act: go("watch") },
    { text: "History", kind: "Go to", act: go("history") },
    { text: "All studies", kind: "Go to", act: () => void navigate("/") },
    ...onSelected(selection, study),
    ...makes,
    ...study.teams.map((team): Thing => ({ text: `Size ${team.name}`, kind: "Do", act: () => size(team.id) })),
    { text: "Run", kind: "Do", act: onRun },
    { text: "Undo", kind: "Do", act: undo },
    { text: "Redo", kind: "Do", act: redo },
    { text: "Day theme", kind: "Do", act: () => chooseTheme("day") },
    { text: "Night theme", kind: "Do", act: () => chooseTheme("night") },
    { text: "All keys", kind: "Do", act: onKeys },
  ];
}

/** Find anything in the study by typing, or do anything that can be clicked. */
export function Palette({ open, onClose, onRun, onKeys }: PaletteProps) {
  const chosen = useRef<(() => void) | null>(null);
  const close = () => {
    chosen.current = null;
    onClose();
  };
  return (
    <Dialog.Root open={open} onOpenChange={(now) => !now && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-[#17202b]/40" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed left-1/2 top-24 z-50 w-[34rem] max-w-[92vw] -translate-x-1/2 rounded-lg border border-rule bg-sheet shadow-xl"
          onCloseAutoFocus={(event) => {
            // What was chosen is done once the dialog has let go of the keyboard, as it may move it elsewhere.
            if (chosen.current) event.preventDefault();
            chosen.current?.();
            chosen.current = null;
          }}
        >
          <Dialog.Title className="sr-only">Find or do</Dialog.Title>
          <Command label="Find or do">
            <Command.Input
              placeholder="A step, a team, a stage, something to do …"
              aria-label="Find or do"
              className="w-full border-b border-rule bg-transparent px-4 py-3 outline-none"
            />
            <Command.List className="max-h-80 overflow-auto py-1">
              <Command.Empty className="px-4 py-3 text-ink-2">Nothing is called that.</Command.Empty>
              <Things
                onRun={onRun}
                onKeys={onKeys}
                onChoose={(act) => {
                  chosen.current = act;
                  onClose();
                }}
              />
            </Command.List>
          </Command>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

type ThingsProps = Pick<PaletteProps, "onRun" | "onKeys"> & { onChoose: (act: () => void) => void };

/** The list of all things; it is made while the palette is open. */
function Things({ onRun, onKeys, onChoose }: ThingsProps) {
  return useThings({ onRun, onKeys }).map((thing, n) => (
    <Command.Item
      key={`${thing.kind} ${thing.text} ${n}`}
      value={`${thing.text} ${thing.kind} ${n}`}
      onSelect={() => onChoose(thing.act)}
      className="flex cursor-pointer justify-between px-4 py-2 data-[selected=true]:bg-marker-light"
    >
      {thing.text} <span className="text-sm text-ink-2">{thing.kind}</span>
    </Command.Item>
  ));
}

/** What can be done with what is selected on the map. */
function onSelected(selection: Selection, study: ReturnType<typeof useStudy.getState>["document"]): Thing[] {
  if (selection?.kind !== "step" && selection?.kind !== "stream") return [];
  const named = (before: string, items: { label: string; onChoose: () => void }[]) =>
    items.map(({ label, onChoose }): Thing => ({ text: before + label, kind: "Do", act: onChoose }));
  const after = named("Insert after: ", insertItems(insertHere, ""));
  const put: Thing = { text: "Put in what was copied", kind: "Do", act: () => void pasteHere() };
  const step = study.steps.find((each) => each.id === selection.id);
  if (selection.kind === "stream" || !step) return [...after, put];
  return [
    ...after,
    ...named("Insert before: ", insertItems(insertBeforeHere, "")),
    ...named("Part ways: ", insertItems(branchHere, "", true)),
    ...named("", turnItems(step)),
    { text: "Copy the selected steps", kind: "Do", act: copyHere },
    put,
    { text: "Delete the selected steps", kind: "Do", act: deleteHere },
  ];
}
