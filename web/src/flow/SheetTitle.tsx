import type { Problem } from "../api/client";
import { ProblemNotes } from "../ui/ProblemNotes";
import { readName, ValueField } from "../ui/ValueField";

interface SheetTitleProps {
  kind: string;
  name: string;
  problems: Problem[];
  onRename: (name: string) => void;
}

/** What kind of thing the sheet is about, and its name, which can be typed over. */
export function SheetTitle({ kind, name, problems, onRename }: SheetTitleProps) {
  return (
    <header className="pb-3">
      <p className="text-sm text-ink-2">{kind}</p>
      <h2 className="text-xl font-bold">
        <span className="sr-only">{name}</span>
        <span className="-ml-1.5 [&_input]:border-transparent [&_input]:bg-transparent [&_input]:font-bold [&_input:focus]:bg-marker-light [&_input:hover]:bg-value">
          <ValueField label={`Name of the ${kind.toLowerCase()}`} value={name} parse={readName} onCommit={onRename} />
        </span>
      </h2>
      <ProblemNotes problems={problems} />
    </header>
  );
}
