import type { Schemas } from "../api/client";
import { money } from "../study/values/figures";

interface CostLinesProps {
  lines: Schemas["CostLine"][];
  teamName: (id: string) => string;
  currency: string;
  /** Whether a day is one by the clock, or one on which it is open. */
  day?: "per_day" | "per_open_day";
}

/** What a day and a case cost, line by line, each beginning where the one before ends, down to the total. */
export function CostLines({ lines, teamName, currency, day = "per_day" }: CostLinesProps) {
  const total = lines.reduce((sum, line) => sum + line[day], 0);
  const perCase = lines.some((line) => line.per_case === null) ? null : lines.reduce((sum, line) => sum + (line.per_case ?? 0), 0);
  const wide = Math.max(total, 1e-9);
  const begins = lines.map((_, n) => lines.slice(0, n).reduce((sum, line) => sum + line[day], 0));
  return (
    <table aria-label="What a day and a case cost" className="w-full">
      <thead className="text-sm text-ink-2">
        <tr>
          <th className="w-px text-left font-normal">
            <span className="sr-only">Line</span>
          </th>
          <td />
          <th scope="col" className="w-24 text-right font-normal">
            {currency} a day{day === "per_open_day" && " of opening"}
          </th>
          <th scope="col" className="w-24 text-right font-normal">
            {currency} a case
          </th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line, n) => (
          <tr key={`${line.team} ${line.line}`}>
            <th scope="row" className="pr-4 text-left font-normal whitespace-nowrap">
              {line.team === null ? line.words : `${teamName(line.team)}, ${line.words.toLowerCase()}`}
            </th>
            <td className="relative" aria-hidden>
              <Bar begins={(begins[n] ?? 0) / wide} long={line[day] / wide} />
            </td>
            <td className="text-right">{money(line[day])}</td>
            <td className="text-right">{money(line.per_case)}</td>
          </tr>
        ))}
      </tbody>
      <tfoot className="font-bold">
        <tr>
          <th scope="row" className="border-t border-ink pr-4 text-left">
            In all
          </th>
          <td className="relative border-t border-ink" aria-hidden>
            <Bar begins={0} long={total > 0 ? 1 : 0} />
          </td>
          <td className="border-t border-ink text-right">{money(total)}</td>
          <td className="border-t border-ink text-right">{money(perCase)}</td>
        </tr>
      </tfoot>
    </table>
  );
}

function Bar({ begins, long }: { begins: number; long: number }) {
  return (
    <span
      className="absolute inset-y-1 min-w-0.5 bg-ink"
      style={{ left: `${Math.max(0, begins) * 100}%`, width: `${Math.max(0, long) * 100}%` }}
    />
  );
}
