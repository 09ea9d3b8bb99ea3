import { NameAt } from "../fields/ValueAt";
import { type At, within } from "../study/addresses";
import { nameOf, partAt } from "../study/parts";
import { problemsAt, useStudy } from "../study/store";
import { ProblemNotes } from "../ui/ProblemNotes";

interface PartTitleProps {
  at: At;
  kind: string;
  /** The keys whose problems are told further down, beside their fields. */
  below?: string[];
}

/** What kind of thing the sheet is about, its name, which can be typed over, and what is wrong with it as a whole. */
export function PartTitle({ at, kind, below = [] }: PartTitleProps) {
  const { problems, document: study } = useStudy();
  const part = partAt(at);
  const here = problemsAt(problems, at).filter((problem) => !below.some((key) => isIn(problem.where, within(at, key))));
  return (
    <header className="pb-3">
      <p className="text-sm text-ink-2">{kind}</p>
      <h2 className="text-xl font-bold">
        <span className="sr-only">{part && nameOf(study, part.kind, part.id)}</span>
        <span className="-ml-1.5 [&_input]:border-transparent [&_input]:bg-transparent [&_input]:font-bold [&_input:focus]:bg-marker-light [&_input:hover]:bg-value">
          <NameAt at={within(at, "name")} label={`Name of the ${kind.toLowerCase()}`} />
        </span>
      </h2>
      <ProblemNotes problems={here} />
    </header>
  );
}

const isIn = (where: string, at: At) => where === at || where.startsWith(`${at}/`);

/** What is wrong or doubtful at some keys of a thing, under their fields. */
export function NotesAt({ at, keys }: { at: At; keys: string[] }) {
  const problems = useStudy((state) => state.problems);
  return <ProblemNotes problems={problems.filter((problem) => keys.some((key) => isIn(problem.where, within(at, ...key.split("/")))))} />;
}
