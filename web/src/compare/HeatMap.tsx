import type { Schemas } from "../api/client";
import { scaleOf } from "../study/values/scales";

interface HeatMapProps {
  across: Schemas["MovedLever"];
  down: Schemas["MovedLever"];
  family: Schemas["Family"];
  row: Schemas["MeasureRow"];
  onChoose: (column: number) => void;
}

/** The deepest ground on which ink can still be read, as a share of ink. */
const DEEPEST = 34;

/** A measure over two levers: a cell for every pair of settings, the darker the higher. */
export function HeatMap({ across, down, family, row, onChoose }: HeatMapProps) {
  const { factor, write } = scaleOf(row.title);
  const xs = settingsOf(across, family);
  const ys = settingsOf(down, family);
  const meanOf = (n: number | undefined) => (n === undefined ? null : (row.cells[n]?.figure?.mean ?? null));
  const columnAt = (x: number, y: number) => family.columns.find((n) => across.settings[n]?.at === x && down.settings[n]?.at === y);
  const means = family.columns.flatMap((n) => meanOf(n) ?? []);
  const [least, most] = [Math.min(...means), Math.max(...means)];
  const depth = (mean: number) => (most > least ? (DEEPEST * (mean - least)) / (most - least) : 0);
  return (
    <div className="overflow-x-auto pb-1">
      <table aria-label={`${row.title.name} over ${across.name} and ${down.name}`} className="border-separate border-spacing-0.5 text-sm">
        <thead>
          <tr>
            <th className="pr-1 text-left align-bottom font-normal text-ink-2" rowSpan={2}>
              {down.name}
            </th>
            <th colSpan={xs.length} className="text-left font-normal text-ink-2">
              {across.name}
            </th>
          </tr>
          <tr>
            {xs.map(({ at, words }) => (
              <th key={at} scope="col" className="px-1 font-bold">
                {words}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {ys.map((y) => (
            <tr key={y.at}>
              <th scope="row" className="pr-1.5 text-right font-bold">
                {y.words}
              </th>
              {xs.map((x) => {
                const column = columnAt(x.at, y.at);
                const mean = meanOf(column);
                return (
                  <td key={x.at} className="p-0">
                    {column !== undefined && mean !== null && (
                      <button
                        type="button"
                        className="block w-full min-w-10 px-1.5 py-1.5 text-right hover:outline-2 hover:outline-ink"
                        style={{ background: `color-mix(in srgb, var(--ink) ${depth(mean)}%, var(--sheet))` }}
                        onClick={() => onChoose(column)}
                      >
                        {write(mean * factor)}
                      </button>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** The settings that a lever has in a family, each once, in their order. */
function settingsOf(lever: Schemas["MovedLever"], family: Schemas["Family"]): Schemas["Setting"][] {
  const found = new Map(family.columns.flatMap((n) => (lever.settings[n] ? [[lever.settings[n].at, lever.settings[n]] as const] : [])));
  return [...found.values()].toSorted((one, other) => one.at - other.at);
}
