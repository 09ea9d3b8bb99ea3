import { ArrowDown, ArrowUp } from "lucide-react";
import type { Order, SortKey } from "./useListed";

interface Column {
  key: SortKey;
  name: string;
  /** Whether its numbers stand at the right. */
  right: boolean;
}

export const COLUMNS: Column[] = [
  { key: "name", name: "Name", right: false },
  { key: "changed_at", name: "Last changed", right: false },
  { key: "runs", name: "Runs", right: true },
];

/** So few studies are found without searching. */
export const FEW = 5;

interface SortHeadProps {
  column: Column;
  order: Order;
  onOrder: (order: Order) => void;
}

/** The head of a column, which sorts by it: names from A on, dates and numbers from the latest or the most on. */
export function SortHead({ column, order, onOrder }: SortHeadProps) {
  const isChosen = order.by === column.key;
  const descending = isChosen ? !order.descending : column.key !== "name";
  const Arrow = order.descending ? ArrowDown : ArrowUp;
  return (
    <th
      aria-sort={isChosen ? (order.descending ? "descending" : "ascending") : "none"}
      className={`py-2 font-normal ${column.right ? "pr-8 text-right" : ""}`}
    >
      <button
        type="button"
        className={`inline-flex items-center gap-1 hover:text-ink ${isChosen ? "font-semibold text-ink" : ""}`}
        onClick={() => onOrder({ by: column.key, descending })}
      >
        {column.name}
        {isChosen && <Arrow size={13} aria-hidden />}
      </button>
    </th>
  );
}
