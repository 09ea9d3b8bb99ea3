import type { Schemas } from "../api/client";
import { ChangeList } from "../ui/ChangeList";
import { Section } from "../ui/Section";
import { TradeOffChart } from "./TradeOffChart";

interface CompareSheetProps {
  comparison: Schemas["Comparison"];
  /** Which column is asked about. */
  chosen: number;
}

/** What the scenarios buy for what they cost, and what one of them changes. */
export function CompareSheet({ comparison, chosen }: CompareSheetProps) {
  const { trade_off, rows, columns } = comparison;
  const [across, up] = [trade_off.across, trade_off.up].map((address) => rows.find((row) => row.address === address));
  const column = columns[chosen] ?? columns[1];
  const first = columns[0];
  return (
    <aside aria-label="What it buys" className="w-84 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-72">
      {across && up && (
        <>
          <p className="text-sm text-ink-2">What it buys</p>
          <h2 className="pb-1 text-xl font-bold">Wait against cost</h2>
          <TradeOffChart comparison={comparison} across={across} up={up} />
          <p className="mb-3 text-sm text-ink-2">Filled and joined: no other scenario is both quicker and cheaper.</p>
        </>
      )}
      {column && first && column !== first && (
        <Section title={`“${column.name}” differs from “${first.name}” in`}>
          {column.changes.length === 0 ? <p className="text-ink-2">Nothing.</p> : <ChangeList changes={column.changes} />}
        </Section>
      )}
    </aside>
  );
}
