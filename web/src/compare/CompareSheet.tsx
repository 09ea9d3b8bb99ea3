import type { Schemas } from "../api/client";
import { ChangeList } from "../ui/ChangeList";
import { Choice } from "../ui/Choice";
import { Section } from "../ui/Section";
import { TradeOffChart } from "./TradeOffChart";

interface CompareSheetProps {
  comparison: Schemas["Comparison"];
  /** Which column is asked about. */
  chosen: number;
  onTradeOff: (traded: { across: string } | { up: string }) => void;
}

/** What the scenarios buy for what they cost, and what one of them changes. */
export function CompareSheet({ comparison, chosen, onTradeOff }: CompareSheetProps) {
  const { trade_off, rows, columns } = comparison;
  const [across, up] = [trade_off.across, trade_off.up].map((address) => rows.find((row) => row.address === address));
  const options = rows.map(({ address, title }) => ({ value: address, label: `${title.name}, ${title.of}` }));
  const column = columns[chosen] ?? columns[1];
  const first = columns[0];
  return (
    <aside aria-label="What it buys" className="w-84 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-72">
      {across && up && (
        <>
          <p className="text-sm text-ink-2">What it buys</p>
          <h2 className="pb-1 text-base leading-7 font-bold">
            <Choice label="Measure upwards" value={up.address} options={options} onChoose={(address) => onTradeOff({ up: address })} />{" "}
            against{" "}
            <Choice
              label="Measure across"
              value={across.address}
              options={options}
              onChoose={(address) => onTradeOff({ across: address })}
            />
          </h2>
          <TradeOffChart comparison={comparison} across={across} up={up} />
          <p className="mb-3 text-sm text-ink-2">Filled and joined: no other scenario is better in both.</p>
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
