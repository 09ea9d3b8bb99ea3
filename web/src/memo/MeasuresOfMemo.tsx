import type { Schemas } from "../api/client";
import { useStudy } from "../study/session/store";
import { withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";

/** What tells of the whole service in a few rows. */
const FOR_ALL = /^(type\/all\/|cost\/total\/per:day$|measure\/)/;

/** The measures of scenarios side by side, as a table that can be read on paper. */
export function MeasuresOfMemo({ comparison: { columns, rows: all } }: { comparison: Schemas["Comparison"] }) {
  const board = useStudy((state) => state.document.board) ?? [];
  const rows = all.filter(({ address, limit }) => limit || board.includes(address) || FOR_ALL.test(address));
  return (
    <table className="w-full text-sm">
      <thead>
        <tr className="border-b border-ink align-bottom text-ink-2">
          <th className="py-1 text-left font-normal">Measure</th>
          {columns.map(({ name, run, scenario }) => (
            <th key={`${run}:${scenario}`} scope="col" className="py-1 pl-3 text-right font-normal">
              {name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ address, title, limit, cells }) => (
          <tr key={address} className="border-b border-rule align-top">
            <th scope="row" className="py-1 text-left font-semibold">
              {title.name}
              <span className="font-normal text-ink-2">
                , {title.of}
                {limit && `, ${limit.words}`}
              </span>
            </th>
            {cells.map((cell, n) => (
              <td key={n} className="py-1 pl-3 text-right">
                <span className="whitespace-nowrap">{written(cell, title)}</span>
                {cell.verdict && <span className="block text-ink-2">{cell.verdict}</span>}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function written({ figure }: Schemas["Cell"], title: Schemas["Title"]): string {
  const { mean, half } = withInterval(figure ?? undefined, scaleOf(title).factor);
  return `${mean} ${half}`.trim();
}
