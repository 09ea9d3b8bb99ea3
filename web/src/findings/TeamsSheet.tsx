import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import type { FigureAddress } from "../api/figures";
import { useCatalogue } from "../api/queries";
import type { StudyDocument } from "../study/document/types";
import { type FigureOf, money, percent, round, withInterval } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { Section } from "../ui/Section";

interface TeamsSheetProps {
  study: StudyDocument;
  figure: FigureOf;
  costs: Schemas["CostLine"][];
  runs: ReactNode;
}

/** Who is stretched, who is waited for, and what it costs. */
export function TeamsSheet({ study, figure, costs, runs }: TeamsSheetProps) {
  const load = (id: string) => figure(`team/${id}/utilisation`)?.mean ?? 0;
  const waited = (id: string) => figure(`team/${id}/cause:any/mean`)?.mean ?? 0;
  const known = (address: FigureAddress, factor: number) => (figure(address)?.mean == null ? null : (figure(address)?.mean ?? 0) * factor);
  const stretched = useCatalogue()?.thresholds.stretched ?? Number.POSITIVE_INFINITY;
  const teams = study.teams.toSorted((one, other) => load(other.id) - load(one.id));
  const currency = study.currency ?? "EUR";
  const unit = spanUnit(Math.max(0, ...study.teams.map(({ id }) => waited(id))));
  return (
    <aside aria-label="Teams" className="w-83 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-72">
      <div className="flex justify-between gap-2 text-sm text-ink-2">
        <span>Teams</span>
        {runs}
      </div>
      <h2 className="pb-1 text-xl font-bold">Who is stretched</h2>
      <table className="w-full">
        <thead className="text-sm text-ink-2">
          <tr className="align-bottom">
            <th className="text-left font-normal">
              <span className="sr-only">Team</span>
            </th>
            <th className="pl-2 text-right font-normal">at work</th>
            <th className="pl-2 text-right leading-tight font-normal">a case waits, {unit.unit}</th>
            <th className="pl-2 text-right font-normal">{currency} a day</th>
          </tr>
        </thead>
        {teams.map((team) => (
          <tbody key={team.id}>
            <tr>
              <th scope="row" className="pt-2 text-left font-bold">
                {team.name}
              </th>
              <td className="pt-2 text-right align-bottom" data-figure={`team/${team.id}/utilisation`}>
                {percent(load(team.id))}
              </td>
              <td className="pt-2 text-right align-bottom" data-figure={`team/${team.id}/cause:any/mean`}>
                {round(known(`team/${team.id}/cause:any/mean`, 1 / unit.minutes))}
              </td>
              <td className="pt-2 text-right align-bottom">{money(figure(`cost/team/${team.id}/total/per:open-day`)?.mean)}</td>
            </tr>
            <tr>
              <td colSpan={4}>
                <div className="mt-1 h-2 bg-value">
                  <div
                    className={`h-full ${load(team.id) >= stretched ? "bg-wrong" : "bg-ink"}`}
                    style={{ width: `${Math.min(100, 100 * load(team.id))}%` }}
                  />
                </div>
              </td>
            </tr>
          </tbody>
        ))}
      </table>
      <div className="h-3" />
      {costs.length > 0 && <Costs figure={figure} currency={currency} />}
    </aside>
  );
}

const PARTS = [
  { line: "idle", words: "for waiting for work" },
  { line: "overtime", words: "for overtime" },
  { line: "waiting", words: "for cases' waiting" },
  { line: "penalty", words: "for penalties" },
] as const;

/** What a day of opening and a case cost, and what of that is no work. */
function Costs({ figure, currency }: { figure: FigureOf; currency: string }) {
  const parts = PARTS.map(({ line, words }) => ({ words, mean: figure(`cost/${line}/per:open-day`)?.mean ?? 0, line }));
  const told = parts.filter(({ mean }) => mean > 0);
  const digits = (figure("cost/total/per:open-day")?.mean ?? 0) >= 100 ? 0 : 2;
  const [day, one] = [figure("cost/total/per:open-day"), figure("cost/total/per:case")];
  return (
    <>
      <Section title="What a day of opening costs">
        <p data-figure="cost/total/per:open-day cost/total/per:day">
          <b className="text-xl">
            {currency} {withInterval(day, 1, money).mean}
          </b>{" "}
          <span className="text-ink-2">{withInterval(day, 1, money).half}</span>
        </p>
        {told.length > 0 && (
          <ul className="text-sm text-ink-2">
            {told.map(({ line, words, mean }) => (
              <li key={line} data-figure={`cost/${line}/per:open-day cost/${line}/per:day`}>
                <span className="inline-block w-12 text-right text-ink">
                  {mean.toLocaleString("en", { maximumFractionDigits: digits })}
                </span>{" "}
                of it {words}
              </li>
            ))}
          </ul>
        )}
      </Section>
      <Section title="What a completed case costs">
        <p data-figure="cost/total/per:case">
          <b className="text-xl">
            {currency} {withInterval(one, 1, money).mean}
          </b>{" "}
          <span className="text-ink-2">{withInterval(one, 1, money).half}</span>
        </p>
      </Section>
    </>
  );
}
