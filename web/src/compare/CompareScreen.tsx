import { MoreHorizontal } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { toast } from "sonner";
import type { Schemas } from "../api/client";
import { type Measures as AskedMeasures, isOver, type Run, useComparison, useRuns } from "../api/queries";
import { FigurePicker } from "../fields/FigurePicker";
import { Estimate } from "../runs/Estimate";
import { useToRun } from "../runs/toRun";
import { useGoOn, wantedOf } from "../runs/useGoOn";
import { useStartRun } from "../runs/useStartRun";
import { WhatIsRun } from "../runs/WhatIsRun";
import { useStudy } from "../study/session/store";
import { LINK_BUTTON, MAIN_BUTTON, Menu } from "../ui/Menu";
import { SentenceText } from "../ui/SentenceText";
import type { Picture } from "./ComparePicture";
import { CompareSheet } from "./CompareSheet";
import { type ColumnKey, offered, runsOf, shortened, usual } from "./columns";
import { MeasureCell, reachOf } from "./MeasureCell";
import { TargetDialog } from "./TargetDialog";

/** Scenarios as columns, measures as rows: what each is, how it differs from the first, and whether that is real. */
export function CompareScreen() {
  const id = useStudy((state) => state.id);
  const runs = useRuns(id).data;
  const [picked, setPicked] = useState<ColumnKey[] | null>(null);
  const [chosen, setChosen] = useState(1);
  const [picture, setPicture] = useState<Picture>("trade-off");
  const options = offered(runs ?? []);
  const columns = (picked ?? usual(runs ?? [])).filter((key) => options.some((each) => each.key === key));
  const version = useStudy((state) => state.version);
  const done = [version, ...(runs ?? []).map((run) => run.done)].join();
  const [aimed, setAimed] = useState<Schemas["MeasureRow"] | null>(null);
  const [asked, setAsked] = useState<AskedMeasures>({});
  const comparison = useComparison(id, shortened(columns, runs ?? []), done, asked);
  if (runs && columns.length < 2 && options.length < 2) return <NothingYet hasRun={options.length > 0} />;
  if (!comparison.data)
    return (
      <main aria-busy className="p-8 text-ink-2">
        {comparison.error?.message ?? "Comparing …"}
      </main>
    );
  const { levers, by, sentences, grounds } = comparison.data;
  const large = largeOnes(sentences);
  const shown = comparison.data.rows.map((row) => row.address);
  const others = options.filter(({ key }) => !columns.includes(key));
  const draw = (next: Picture) => {
    setPicture(next);
    if (next === "lever") setAsked({ ...asked, lever: by.slice(0, 1) });
    if (next === "two levers") setAsked({ ...asked, lever: levers.slice(0, 2).map((lever) => lever.id) });
  };
  return (
    <div className="flex h-full min-h-0">
      <main className="min-w-0 flex-1 overflow-auto px-6.5 py-5">
        <header className="sticky left-0 mb-3 max-w-4xl">
          <h1 className="text-xl font-bold leading-8">
            <Sentences sentences={sentences.slice(0, large)} />
          </h1>
          <p className="font-semibold">
            <Sentences sentences={sentences.slice(large)} />
          </p>
          <p className="mt-1 flex flex-wrap items-baseline gap-x-4 text-sm text-ink-2">
            <span>{grounds}</span>
            <CopySentences sentences={sentences} grounds={grounds} />
            <FigurePicker
              label="Add a measure"
              trigger="Add a measure"
              className={LINK_BUTTON}
              onPick={({ address }) => setAsked({ ...asked, address: [...new Set([...shown, address])] })}
            />
            {others.length > 0 && (
              <Menu
                trigger="Add a column"
                items={others.map(({ key, label }) => ({ label, onChoose: () => setPicked([...columns, key]) }))}
              />
            )}
            <RunMore runs={runsOf(columns, runs ?? [])} />
          </p>
        </header>
        <Measures
          comparison={comparison.data}
          chosen={chosen}
          onChoose={setChosen}
          measureItems={(address) => [
            { label: "Draw it", onChoose: () => setAsked({ ...asked, up: address }) },
            { label: "Target …", onChoose: () => setAimed(comparison.data.rows.find((row) => row.address === address) ?? null) },
            { label: "More is better", onChoose: () => setAsked(preferring(asked, address, 1)) },
            { label: "Less is better", onChoose: () => setAsked(preferring(asked, address, -1)) },
            { label: "Leave it out", onChoose: () => setAsked({ ...asked, address: shown.filter((each) => each !== address) }) },
          ]}
          onBaseline={(n) => setPicked([columns[n] as ColumnKey, ...columns.filter((_, place) => place !== n)])}
          onRemove={(n) => setPicked(columns.filter((_, place) => place !== n))}
        />
        {aimed && <TargetDialog row={aimed} onClose={() => setAimed(null)} />}
      </main>
      <CompareSheet
        comparison={comparison.data}
        picture={picture}
        onPicture={draw}
        chosen={chosen}
        onChoose={setChosen}
        onDraw={(drawn) => setAsked({ ...asked, ...drawn })}
      />
    </div>
  );
}

type Sentence = Schemas["Words"][];

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

/** The measures asked for, with another way in which one is better. */
function preferring(asked: AskedMeasures, address: string, wish: 1 | -1): AskedMeasures {
  const others = (list: string[] = []) => list.filter((each) => each !== address);
  const [more, less] = [others(asked.more_is_better), others(asked.less_is_better)];
  return { ...asked, more_is_better: wish > 0 ? [...more, address] : more, less_is_better: wish < 0 ? [...less, address] : less };
}

/** What can be run to have something to compare, and how long that takes. */
function NothingYet({ hasRun }: { hasRun: boolean }) {
  const toRun = useToRun();
  const scenarios = useStudy((state) => state.whole.scenarios ?? []);
  const start = useStartRun();
  return (
    <main className="p-8">
      <h1 className="text-xl font-bold">Nothing to compare yet</h1>
      <p className="mt-2 mb-4 max-w-xl text-ink-2">
        A comparison sets scenarios side by side, or two runs.{" "}
        {scenarios.length > 0
          ? "The scenarios of this study can be run now, all on the same luck."
          : hasRun
            ? "Make a scenario and run it too, or change one thing and run again."
            : "Run the study as it is, and a scenario of what you want to try."}
      </p>
      {scenarios.length === 0 ? (
        <Link className={MAIN_BUTTON} to="../scenarios" relative="path">
          Make a scenario
        </Link>
      ) : (
        <>
          <WhatIsRun />
          <div className="mt-5 flex items-center gap-4">
            <button type="button" className={MAIN_BUTTON} onClick={() => start.mutate()} disabled={start.isPending || toRun.length === 0}>
              {toRun.length === 1 ? "Run it" : `Run ${toRun.length} scenarios`}
            </button>
            <Estimate toRun={toRun} />
          </div>
        </>
      )}
    </main>
  );
}

interface MeasuresProps {
  comparison: Schemas["Comparison"];
  chosen: number;
  onChoose: (column: number) => void;
  onBaseline: (column: number) => void;
  onRemove: (column: number) => void;
  /** What can be done with a measure. */
  measureItems: (address: string) => { label: string; onChoose: () => void }[];
}

function Measures({ comparison, chosen, onChoose, onBaseline, onRemove, measureItems }: MeasuresProps) {
  const { columns, rows } = comparison;
  return (
    <table className="border-separate border-spacing-0">
      <thead>
        <tr className="align-bottom">
          <th className="sticky left-0 z-10 w-48 min-w-48 bg-paper">
            <span className="sr-only">Measure</span>
          </th>
          {columns.map((column, n) => (
            <th key={`${column.run}:${column.scenario}`} scope="col" className="min-w-40 pr-3 text-left font-normal">
              <span className="flex items-baseline justify-between gap-1">
                <button type="button" className="text-left leading-5 font-bold hover:underline" onClick={() => onChoose(n)}>
                  {column.name}
                </button>
                {n > 0 && (
                  <Menu
                    trigger={<MoreHorizontal size={16} aria-hidden />}
                    label={`More on ${column.name}`}
                    className="rounded p-0.5 hover:bg-value"
                    items={[
                      { label: "Make it the baseline", onChoose: () => onBaseline(n) },
                      ...(columns.length > 2 ? [{ label: "Leave it out", onChoose: () => onRemove(n) }] : []),
                    ]}
                  />
                )}
              </span>
              <span className="block pb-1.5 text-sm text-ink-2">
                {n === 0 ? "baseline, " : ""}run {column.number}
              </span>
              <span aria-hidden className={`block h-[3px] ${n === 0 ? "bg-ink" : n === chosen ? "bg-marker" : "bg-rule"}`} />
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ address, title, limit, cells }) => (
          <tr key={address} className="align-top">
            <th
              scope="row"
              data-figure={address}
              className="sticky left-0 z-10 border-b border-rule bg-paper py-1.5 pr-3 text-left leading-5 font-normal"
            >
              <b>{title.name}</b>
              <span className="block text-sm text-ink-2">{title.of}</span>
              {limit && <span className="block text-sm text-ink-2">{limit.words}</span>}
              <span className="absolute top-1 right-1">
                <Menu
                  trigger={<MoreHorizontal size={16} aria-hidden />}
                  label={`More on ${title.name}, ${title.of}`}
                  className="rounded p-0.5 text-ink-3 hover:bg-value hover:text-ink"
                  items={measureItems(address)}
                />
              </span>
            </th>
            {cells.map((cell, n) => (
              <td key={n} className="border-b border-rule py-1.5 pr-3">
                <MeasureCell cell={cell} title={title} reach={reachOf(cells)} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
