import { MoreHorizontal } from "lucide-react";
import type { Schemas } from "../api/client";
import { Menu } from "../ui/Menu";
import { MeasureCell, reachOf } from "./MeasureCell";

interface MeasuresTableProps {
  comparison: Schemas["Comparison"];
  chosen: number;
  onChoose: (column: number) => void;
  onBaseline: (column: number) => void;
  onRemove: (column: number) => void;
  /** What can be done with a measure. */
  measureItems: (address: string) => { label: string; onChoose: () => void }[];
}

/** Measures as rows, scenarios as columns. */
export function MeasuresTable({ comparison, chosen, onChoose, onBaseline, onRemove, measureItems }: MeasuresTableProps) {
  const { columns, rows, by_time: byTime } = comparison;
  return (
    <table className="border-separate border-spacing-0">
      <thead>
        <tr className="align-bottom">
          <th className="sticky left-0 z-10 w-54.5 min-w-54.5 bg-paper">
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
        {byTime.map(({ promise, cells }) => (
          <tr key={promise} className="align-top">
            <th scope="row" className="sticky left-0 z-10 border-b border-rule bg-paper py-1.5 pr-7 pl-6.5 text-left leading-5 font-normal">
              <span className="block text-sm text-ink-2">target</span>
              {promise}
            </th>
            {cells.map(({ keeps, words }, n) => (
              <td key={n} className="max-w-50 border-b border-rule py-1.5 pr-3 leading-5">
                {keeps && <b className={`block ${keeps === "missed" ? "text-wrong" : ""}`}>{keeps}</b>}
                <span className="text-sm text-ink-2">{words}</span>
              </td>
            ))}
          </tr>
        ))}
        {rows.map(({ address, title, limit, cells }) => (
          <tr key={address} className="align-top">
            <th
              scope="row"
              data-figure={address}
              className="sticky left-0 z-10 border-b border-rule bg-paper py-1.5 pr-7 pl-6.5 text-left leading-5 font-normal"
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
