import { Modal } from "../ui/Modal";

const KEYS: [string, [string, string][]][] = [
  [
    "Everywhere",
    [
      ["Ctrl K or /", "Find a step, a team, a stage; do anything"],
      ["Ctrl Z, Ctrl Y", "Undo, redo"],
      ["Ctrl Enter", "Run"],
      ["G, then L F D T R I C H", "Go to Data (logs), Flow, Demand, Teams, Run, Findings, Compare, History"],
      ["?", "This list"],
    ],
  ],
  [
    "On the map",
    [
      ["← → ↑ ↓", "Follow the lines"],
      ["Shift and an arrow, Shift click", "Select more steps, to edit them together"],
      ["Enter, Escape", "Into the sheet, back to the map"],
      ["N, Shift N", "Insert a step after, before"],
      ["B", "Let the ways part"],
      ["W", "Draw a way to a step that is there, also back"],
      ["M", "Move to after another step"],
      ["Ctrl C, Ctrl V", "Copy steps with all their settings, put them in"],
      ["R", "Rename"],
      ["Delete", "Delete and close the gap"],
      ["+ − 0", "Closer, farther away, the whole flow"],
    ],
  ],
  [
    "On the roster board",
    [
      ["← →", "Move the shift by a quarter of an hour; with Alt by five minutes"],
      ["Shift ← →", "Stretch its end"],
      ["A number, + −, the wheel", "How many people come"],
      ["↑ ↓", "To another shift"],
      ["Shift ↑ ↓, Shift click, Ctrl A", "Choose more shifts, to change them together"],
      ["D, S", "Duplicate it, split it"],
      ["Enter, Escape", "Into the sheet, back to the board"],
      ["Delete", "Take it away"],
    ],
  ],
  [
    "While watching",
    [
      ["Space", "Play, pause"],
      ["← →", "The event before, the next one"],
      ["[ ]", "Slower, faster"],
      ["C", "Say the clock and the counters"],
      ["On the time line: ← →, Page up and down", "A minute, an hour"],
    ],
  ],
  [
    "In tables and grids",
    [
      ["Type, Enter, F2", "Type over, edit what is there"],
      ["Ctrl Enter", "Fill all that is selected with what is typed"],
      ["Shift and an arrow", "Select more"],
      ["Ctrl D, Ctrl R", "Fill down, fill right"],
      ["Alt Delete", "In a scenario: as it is today"],
      ["Ctrl C, Ctrl V", "Copy to and paste from a spreadsheet"],
    ],
  ],
];

/** The list of keys. */
export function Shortcuts({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Modal open={open} onClose={onClose} title="Keys">
      {KEYS.map(([where, list]) => (
        <section key={where} className="mb-3">
          <h3 className="mb-1 border-b border-rule text-sm text-ink-2">{where}</h3>
          <dl className="grid grid-cols-[13rem_1fr] gap-y-1">
            {list.map(([keys, what]) => (
              <div key={keys} className="contents">
                <dt className="font-semibold">{keys}</dt>
                <dd className="text-ink-2">{what}</dd>
              </div>
            ))}
          </dl>
        </section>
      ))}
    </Modal>
  );
}
