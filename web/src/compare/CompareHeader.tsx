import type { ReactNode } from "react";
import { toast } from "sonner";
import type { Schemas } from "../api/client";
import { isOver, type Run } from "../api/queries";
import { useGoOn, wantedOf } from "../runs/useGoOn";
import { LINK_BUTTON } from "../ui/Menu";
import { SentenceText } from "../ui/SentenceText";

type Sentence = Schemas["Words"][];

interface CompareHeaderProps {
  sentences: Sentence[];
  grounds: string;
  /** The runs of which scenarios are compared. */
  runs: Run[];
  /** What else can be done. */
  children: ReactNode;
}

/** What the comparison says, what it rests on, and what can be done about it. */
export function CompareHeader({ sentences, grounds, runs, children }: CompareHeaderProps) {
  const large = largeOnes(sentences);
  return (
    <header className="sticky left-0 mb-3 max-w-4xl pl-6.5">
      <h1 className="text-xl font-bold leading-8">
        <Sentences sentences={sentences.slice(0, large)} />
      </h1>
      <p className="font-semibold">
        <Sentences sentences={sentences.slice(large)} />
      </p>
      <p className="mt-1 flex flex-wrap items-baseline gap-x-4 text-sm text-ink-2">
        <span>{grounds}</span>
        <CopySentences sentences={sentences} grounds={grounds} />
        {children}
        <RunMore runs={runs} />
      </p>
    </header>
  );
}

/** So many letters are told large. */
const MOST_LARGE = 180;

/** How many of the sentences are told large: as many as are short together, at least the first. */
function largeOnes(sentences: Sentence[]): number {
  const longs = sentences.map((pieces) => pieces.reduce((sum, { words }) => sum + words.length, 0));
  const fitting = longs.filter((_, n) => longs.slice(0, n + 1).reduce((sum, long) => sum + long, 0) <= MOST_LARGE);
  return Math.max(1, fitting.length);
}

function Sentences({ sentences }: { sentences: Sentence[] }) {
  return sentences.map((pieces, n) => (
    <span key={n}>
      {n > 0 && " "}
      <SentenceText pieces={pieces} />
    </span>
  ));
}

/** Copies what the comparison says, and what it rests on, as plain text. */
function CopySentences({ sentences, grounds }: { sentences: Sentence[]; grounds: string }) {
  const text = [...sentences.map((pieces) => pieces.map(({ words }) => words).join("")), grounds].join("\n");
  const copy = () =>
    (navigator.clipboard?.writeText(text) ?? Promise.reject()).then(
      () => toast("Copied."),
      () => toast.error("The browser does not let it be copied. Mark the text and copy it."),
    );
  return (
    <button type="button" className={LINK_BUTTON} onClick={() => void copy()}>
      Copy the sentences
    </button>
  );
}

const SO_MANY_MORE = 10;

/** Goes on with the runs of which scenarios are compared. */
function RunMore({ runs }: { runs: Run[] }) {
  const goOn = useGoOn();
  const going = runs.filter((run) => !isOver(run));
  const open = runs.filter((run) => run.can_go_on && isOver(run));
  if (going.length > 0)
    return (
      <span role="status">
        Running: {going.reduce((sum, run) => sum + run.done, 0)} of {going.reduce((sum, run) => sum + run.replications, 0)} replications
      </span>
    );
  if (open.length === 0) return null;
  const more = () => {
    for (const run of open) goOn.mutate({ run, replications: wantedOf(run) + SO_MANY_MORE });
  };
  return (
    <button type="button" className={LINK_BUTTON} onClick={more} disabled={goOn.isPending}>
      Run {SO_MANY_MORE} more of each
    </button>
  );
}
