import { Command } from "cmdk";
import { useNavigate } from "react-router";
import { redo, type Selection, select, undo, useStudy } from "../study/store";
import { STAGES } from "./Rail";

/** Find anything in the study by typing, or do something. */
export function Palette({ open, onClose }: { open: boolean; onClose: () => void }) {
  const navigate = useNavigate();
  const { id, document } = useStudy();
  const go = (stage: string) => navigate(`/studies/${id}/${stage}`);
  const show = (selection: Selection) => () => {
    void go("flow");
    select(selection);
  };
  const things = [
    ...document.steps.map((step) => ({ text: step.name, kind: "Step", act: show({ kind: "step", id: step.id }) })),
    ...document.streams.map((stream) => ({ text: stream.name, kind: "Stream", act: show({ kind: "stream", id: stream.id }) })),
    ...document.teams.map((team) => ({ text: team.name, kind: "Team", act: show({ kind: "team", id: team.id }) })),
    ...document.case_types.map((type) => ({ text: type.name, kind: "Case type", act: show({ kind: "type", id: type.id }) })),
    ...STAGES.map((stage) => ({ text: stage.name, kind: "Go to", act: () => void go(stage.path) })),
    { text: "Undo", kind: "Do", act: undo },
    { text: "Redo", kind: "Do", act: redo },
    { text: "All studies", kind: "Go to", act: () => void navigate("/") },
  ];
  return (
    <Command.Dialog
      open={open}
      onOpenChange={(now) => !now && onClose()}
      label="Find or do"
      overlayClassName="fixed inset-0 z-40 bg-[#17202b]/40"
      contentClassName="fixed left-1/2 top-24 z-50 w-[34rem] max-w-[92vw] -translate-x-1/2 rounded-lg border border-rule bg-sheet shadow-xl"
    >
      <Command.Input placeholder="A step, a team, a stage …" aria-label="Find or do" className="w-full border-b border-rule bg-transparent px-4 py-3 outline-none" />
      <Command.List className="max-h-80 overflow-auto py-1">
        <Command.Empty className="px-4 py-3 text-ink-2">Nothing is called that.</Command.Empty>
        {things.map((thing, n) => (
          <Command.Item
            key={`${thing.kind} ${thing.text} ${n}`}
            value={`${thing.text} ${thing.kind} ${n}`}
            onSelect={() => {
              onClose();
              thing.act();
            }}
            className="flex cursor-pointer justify-between px-4 py-2 data-[selected=true]:bg-marker-light"
          >
            {thing.text} <span className="text-sm text-ink-2">{thing.kind}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command.Dialog>
  );
}
