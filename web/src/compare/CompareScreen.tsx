import { useState } from "react";
import type { Schemas } from "../api/client";
import { type Measures as AskedMeasures, useComparison, useRuns } from "../api/queries";
import { FigurePicker } from "../fields/FigurePicker";
import { TargetDialog } from "../fields/TargetDialog";
import { MemoMenu } from "../runs/MemoMenu";
import { useStudy } from "../study/session/store";
import { LINK_BUTTON, Menu } from "../ui/Menu";
import { CompareHeader } from "./CompareHeader";
import type { Picture } from "./ComparePicture";
import { CompareSheet } from "./CompareSheet";
import { type ColumnKey, offered, runsOf, shortened, usual } from "./columns";
import { MeasuresTable } from "./MeasuresTable";
import { NothingToCompare } from "./NothingToCompare";

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
  if (runs && columns.length < 2 && options.length < 2) return <NothingToCompare hasRun={options.length > 0} />;
  if (!comparison.data)
    return (
      <main aria-busy className="p-8 text-ink-2">
        {comparison.error?.message ?? "Comparing …"}
      </main>
    );
  const { levers, by, sentences, grounds } = comparison.data;
  const seen = comparison.data.columns.map((column): ColumnKey => `${column.run}:${column.scenario}`);
  const shown = comparison.data.rows.map((row) => row.address);
  const others = options.filter(({ key }) => !columns.includes(key));
  const draw = (next: Picture) => {
    setPicture(next);
    if (next === "lever") setAsked({ ...asked, lever: by.slice(0, 1) });
    if (next === "two levers") setAsked({ ...asked, lever: levers.slice(0, 2).map((lever) => lever.id) });
  };
  return (
    <div className="flex h-full min-h-0">
      <main className="min-w-0 flex-1 overflow-auto py-5 pr-6.5">
        <CompareHeader sentences={sentences} grounds={grounds} runs={runsOf(columns, runs ?? [])}>
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
          <MemoMenu columns={seen} />
        </CompareHeader>
        <MeasuresTable
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
          onBaseline={(n) => setPicked([...seen.slice(n, n + 1), ...seen.toSpliced(n, 1)])}
          onRemove={(n) => setPicked(seen.toSpliced(n, 1))}
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

/** The measures asked for, with another way in which one is better. */
function preferring(asked: AskedMeasures, address: string, wish: 1 | -1): AskedMeasures {
  const others = (list: string[] = []) => list.filter((each) => each !== address);
  const [more, less] = [others(asked.more_is_better), others(asked.less_is_better)];
  return { ...asked, more_is_better: wish > 0 ? [...more, address] : more, less_is_better: wish < 0 ? [...less, address] : less };
}
