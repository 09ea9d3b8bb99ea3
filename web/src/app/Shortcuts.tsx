import { Modal } from "../ui/Modal";

const KEYS: [string, string][] = [
  ["← → ↑ ↓", "Follow the lines on the map"],
  ["Enter", "Open the sheet of what is selected"],
  ["Escape", "Back to the map; nothing selected"],
  ["N", "Insert a step after the selected one"],
  ["B", "Let the ways part after the selected one"],
  ["R", "Rename the selected one"],
  ["Delete", "Delete the selected one and close the gap"],
  ["Ctrl Z, Ctrl Y", "Undo, redo"],
  ["Ctrl K", "Find or do"],
  ["?", "This list"],
];

/** The list of keys. */
export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Modal open={open} onClose={onClose} title="Keys">
      <dl className="grid grid-cols-[9rem_1fr] gap-y-2">
        {KEYS.map(([keys, what]) => (
          <div key={keys} className="contents">
            <dt className="font-semibold">{keys}</dt>
            <dd className="text-ink-2">{what}</dd>
          </div>
        ))}
      </dl>
    </Modal>
  );
}
