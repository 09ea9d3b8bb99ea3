import type { Schemas } from "../api/client";
import { percent, round } from "../study/values/figures";
import { type SpanUnit, spanUnit } from "../study/values/spans";
import { Picture } from "../ui/Picture";
import { Interval } from "./Interval";

type Group = Schemas["FigureGroup"];
type Cell = Schemas["FigureCell"] | null;

/** Counts and times of like things, a table for each kind. */
export function GroupsView({ groups }: { groups: Group[] }) {
  return groups.map((group) => <GroupTable key={group.title} group={group} />);
}

const unitOf = (group: Group) => {
  const times = group.rows.flatMap(({ cells }) =>
    cells.map((cell, n) => (group.columns[n]?.unit === "minutes" ? (cell?.figure.mean ?? 0) : 0)),
  );
  return spanUnit(Math.max(0, ...times));
};

function GroupTable({ group }: { group: Group }) {
  const unit = unitOf(group);
  return (
    <Picture className="mb-5" title={group.title} table={() => tableOf(group)} isDrawn={false}>
      <table className="w-full">
        <thead className="text-sm text-ink-2">
          <tr className="border-b border-ink align-bottom">
            <th className="py-1 text-left font-normal">
              <span className="sr-only">Name</span>
            </th>
            {group.columns.map(({ words, unit: kind }) => (
              <th key={words} scope="col" className="py-1 pl-3 text-right font-normal">
                {words}
                {kind === "minutes" && `, ${unit.unit}`}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {group.rows.map(({ name, cells }) => (
            <tr key={name} className="border-b border-rule">
              <th scope="row" className="py-1 text-left font-semibold">
                {name}
              </th>
              {cells.map((cell, n) => (
                <td key={n} className="py-1 pl-3 text-right" data-figure={cell?.address}>
                  <Told cell={cell} kind={group.columns[n]?.unit ?? ""} unit={unit} />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
    </Picture>
  );
}

function Told({ cell, kind, unit }: { cell: Cell; kind: string; unit: SpanUnit }) {
  if (!cell) return null;
  if (kind === "minutes") return <Interval figure={cell.figure} factor={1 / unit.minutes} />;
  return kind === "share" ? percent(cell.figure.mean) : round(cell.figure.mean);
}

function tableOf({ title, columns, rows }: Group) {
  const words = columns.map((column) => (column.unit === "minutes" ? `${column.words}, min` : column.words));
  return {
    head: [title, ...words.flatMap((each) => [each, "±"])],
    rows: rows.map(({ name, cells }) => [name, ...cells.flatMap((cell) => [cell?.figure.mean ?? null, cell?.figure.half_width ?? null])]),
  };
}
