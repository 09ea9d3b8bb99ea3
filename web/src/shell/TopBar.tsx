import { Redo2, Undo2 } from "lucide-react";
import { Link, NavLink } from "react-router";
import { useToRun } from "../runs/toRun";
import type { useStartRun } from "../runs/useStartRun";
import { saveNow } from "../study/session/autosave";
import type { SaveState } from "../study/session/state";
import { edit, redo, undo, useStudy, useUndo } from "../study/session/store";
import { spelled } from "../study/values/durations";
import { readName } from "../ui/ValueField";
import { Logo } from "./Logo";
import { PersonMenu } from "./PersonMenu";
import { ScenarioChoice } from "./ScenarioChoice";

const SAVE_WORDS: Record<SaveState, string> = {
  saved: "Saved",
  changed: "Saving …",
  saving: "Saving …",
  unreachable: "Not saved yet: kept here, trying again",
  refused: "Not saved: see the problems",
  conflict: "Not saved: changed elsewhere",
};

/** The study, how saving stands, undo and redo, and the one main action. */
export function TopBar({ start, onFind }: { start: ReturnType<typeof useStartRun>; onFind: () => void }) {
  const run = useStudy((state) => state.document.run);
  const save = useStudy((state) => state.save);
  const many = useToRun().length;
  const { undoLabel, redoLabel } = useUndo();
  const quiet =
    "flex items-center whitespace-nowrap gap-1.5 rounded px-2 py-1 text-sm text-[#c9ced6] hover:text-on-bar disabled:opacity-40";
  return (
    <header className="on-bar flex h-13 print:hidden shrink-0 items-center gap-2 bg-bar pr-3.5 text-on-bar">
      <Link to="/" aria-label="All studies" className="grid h-full w-21 place-items-center">
        <Logo />
      </Link>
      <StudyName />
      <ScenarioChoice />
      <span
        aria-live="polite"
        className={`min-w-12 truncate text-sm
          ${save === "saved" || save === "changed" || save === "saving" ? "text-[#b6bcc6]" : "font-semibold text-marker"}`}
      >
        {save === "unreachable" ? (
          <button type="button" onClick={() => void saveNow()}>
            {SAVE_WORDS[save]}
          </button>
        ) : (
          SAVE_WORDS[save]
        )}
      </span>
      <NavLink
        to="history"
        className="rounded px-2 py-1 text-sm text-[#c9ced6] hover:text-on-bar aria-[current=page]:font-bold aria-[current=page]:text-on-bar"
      >
        History
      </NavLink>
      <span className="ml-auto" />
      <button type="button" className={quiet} onClick={undo} disabled={!undoLabel} aria-label={undoLabel ? `Undo: ${undoLabel}` : "Undo"}>
        <Undo2 size={15} aria-hidden />
        <span className="max-w-40 truncate max-[1200px]:hidden">Undo{undoLabel ? ` “${undoLabel}”` : ""}</span>
      </button>
      <button
        type="button"
        className={quiet}
        onClick={redo}
        disabled={redoLabel === null}
        aria-label={redoLabel ? `Redo: ${redoLabel}` : "Redo"}
      >
        <Redo2 size={15} aria-hidden />
      </button>
      <button type="button" className={quiet} onClick={onFind}>
        Find or do … <kbd className="rounded border border-[#5b6675] px-1.5 font-sans">Ctrl K</kbd>
      </button>
      <PersonMenu />
      <button
        type="button"
        className="whitespace-nowrap rounded-md bg-marker px-4 py-2 text-sm font-bold text-[#17202b] hover:brightness-105
          disabled:opacity-60"
        onClick={() => start.mutate(null)}
        disabled={start.isPending || many === 0}
      >
        {many > 1 ? `Run ${many} scenarios` : `Run ${spelled(run.length)} × ${run.replications}`}
      </button>
    </header>
  );
}

function StudyName() {
  const name = useStudy((state) => state.document.name);
  return (
    <input
      key={name}
      aria-label="Name of the study"
      className="field-sizing-content min-w-20 max-w-72 text-ellipsis rounded max-[1100px]:max-w-48 bg-transparent px-2 py-1
        text-base font-bold hover:bg-white/10 focus:bg-white/15"
      defaultValue={name}
      onBlur={(event) => {
        const read = readName(event.target.value);
        if ("value" in read && read.value !== name) edit(`Rename to ${read.value}`, (study) => void (study.name = read.value));
        else event.target.value = name;
      }}
      onKeyDown={(event) => event.key === "Enter" && event.currentTarget.blur()}
    />
  );
}
