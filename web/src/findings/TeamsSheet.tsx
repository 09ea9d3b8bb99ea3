import type { ReactNode } from "react";
import { useCatalogue } from "../api/queries";
import type { CostLine } from "../pulse/weeks";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { Section } from "../ui/Section";
import { type FigureOf, money, percent, withInterval } from "./figures";

interface TeamsSheetProps {
  study: StudyDocument;
  figure: FigureOf;
  costs: CostLine[];
  runs: ReactNode;
}

/** Who is stretched, and what it costs. */
export function TeamsSheet({ study, figure, costs, runs }: TeamsSheetProps) {
  const load = (id: string) => figure(`team/${id}/utilisation`)?.mean ?? 0;
  const stretched = useCatalogue()?.thresholds.stretched ?? Number.POSITIVE_INFINITY;
  const teams = study.teams.toSorted((one, other) => load(other.id) - load(one.id));
  const perCase = figure("cost/total/per:case");
  const currency = study.currency ?? "EUR";
  return (
    <aside aria-label="Teams" className="w-83 shrink-0 overflow-y-auto border-l border-rule bg-sheet px-4.5 py-4 max-[1100px]:w-72">
      <div className="flex justify-between text-sm text-ink-2">
        <span>Teams</span>
        {runs}
      </div>
      <h2 className="pb-2 text-xl font-bold">Who is stretched</h2>
      <table className="w-full">
        <thead className="text-sm text-ink-2">
          <tr>
            <th className="text-left font-normal">
              <span className="sr-only">Team</span>
            </th>
            <th className="text-right font-normal">at work</th>
            <th className="text-right font-normal">{currency} a day</th>
          </tr>
        </thead>
        {teams.map((team) => (
          <tbody key={team.id}>
            <tr>
              <th scope="row" className="pt-2.5 text-left font-bold">
                {team.name} <span className="text-sm font-normal text-ink-2">{team.roster?.length ? "by roster" : (team.size ?? 1)}</span>
              </th>
              <td className="pt-2.5 text-right" data-figure={`team/${team.id}/utilisation`}>
                {percent(load(team.id))}
              </td>
              <td className="pt-2.5 text-right">{money(figure(`cost/team/${team.id}/total/per:day`)?.mean)}</td>
            </tr>
            <tr>
              <td colSpan={3}>
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
      <div className="h-4" />
      <Section title="What a case costs">
        <p>
          <b className="text-xl">
            {currency} {withInterval(perCase, 1, money).mean}
          </b>{" "}
          <span className="text-ink-2">
            {withInterval(perCase, 1, money).half}, of which {money(figure("cost/idle/per:case")?.mean)} is for waiting for work
          </span>
        </p>
      </Section>
      <Section title="What a day costs">
        <p>
          <b>
            {currency} {money(figure("cost/total/per:day")?.mean)}
          </b>{" "}
          <span className="text-ink-2">for 24 hours on the study's clock</span>
        </p>
        <table aria-label="What a day costs, line by line" className="mt-1 w-full text-sm">
          <tbody>
            {costs.map((line) => (
              <tr key={`${line.team} ${line.line}`}>
                <th scope="row" className="text-left font-normal text-ink-2">
                  {line.team === null ? line.words : `${nameOf(study, "team", line.team)}, ${line.words.toLowerCase()}`}
                </th>
                <td className="text-right">{money(line.per_day)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Section>
    </aside>
  );
}
