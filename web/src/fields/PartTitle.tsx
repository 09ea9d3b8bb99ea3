import { type At, within } from "../study/document/addresses";
import { nameOf, partAt } from "../study/document/parts";
import { problemsAt, select, useStudy } from "../study/session/store";
import { ProblemNotes } from "../ui/ProblemNotes";
import { readName, ValueField } from "../ui/ValueField";
import { NameAt } from "./ValueAt";

interface PartTitleProps {
  at: At;
  kind: string;
  /** The keys whose problems are told further down, beside their fields. */
  below?: string[];
  /** Gives the name, where that is more than writing it at its address. */
  onName?: (name: string) => void;
}

/** What kind of thing the sheet is about, its name, which can be typed over, and what is wrong with it as a whole. */
export function PartTitle({ at, kind, below = [], onName }: PartTitleProps) {
  const problems = useStudy((state) => state.problems);
  const study = useStudy((state) => state.document);
  const part = partAt(at);
  const here = problemsAt(problems, at).filter((problem) => !below.some((key) => isIn(problem.where, within(at, key))));
  return (
    <header className="pb-3">
      <BackToStudy>{kind}</BackToStudy>
      <TitleAt
        at={within(at, "name")}
        label={`Name of the ${kind.toLowerCase()}`}
        name={part ? nameOf(study, part.kind, part.id) : ""}
        onName={onName}
      />
      <ProblemNotes problems={here} />
    </header>
  );
}

/** Where one is, below the study: a way back to it. */
export function BackToStudy({ children }: { children: string }) {
  return (
    <p className="text-sm text-ink-2">
      <button type="button" className="underline decoration-dotted underline-offset-4 hover:text-ink" onClick={() => select(null)}>
        Study
      </button>{" "}
      › {children}
    </p>
  );
}

/** A name as a heading that can be typed over. */
export function TitleAt({ at, label, name, onName }: { at: At; label: string; name: string } & Pick<PartTitleProps, "onName">) {
  return (
    <h2 className="text-xl font-bold">
      <span className="sr-only">{name}</span>
      <span
        title={name}
        className="-ml-1.5 [&_input]:text-ellipsis [&_input]:border-transparent [&_input]:bg-transparent [&_input]:font-bold
        [&_input:focus]:bg-marker-light [&_input:hover]:bg-value"
      >
        {onName ? <ValueField at={at} label={label} value={name} parse={readName} onCommit={onName} /> : <NameAt at={at} label={label} />}
      </span>
    </h2>
  );
}

const isIn = (where: string, at: At) => where === at || where.startsWith(`${at}/`);

/** What is wrong or doubtful at some keys of a thing, under their fields. */
export function NotesAt({ at, keys }: { at: At; keys: string[] }) {
  const problems = useStudy((state) => state.problems);
  return <ProblemNotes problems={problems.filter((problem) => keys.some((key) => isIn(problem.where, within(at, ...key.split("/")))))} />;
}
