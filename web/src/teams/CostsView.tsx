import { useState } from "react";
import { partOf, useFindings, useRuns } from "../api/queries";
import { CostLines } from "../charts/CostLines";
import { NumberAt, ReadAt } from "../fields/ValueAt";
import { usePulse } from "../pulse/usePulse";
import { costsOf } from "../pulse/weeks";
import { type At, within } from "../study/document/addresses";
import { nameOf } from "../study/document/parts";
import type { StudyDocument } from "../study/document/types";
import { select, useStudy } from "../study/session/store";
import { readCurrency } from "../study/values/currency";
import { money } from "../study/values/figures";
import { Choice } from "../ui/Choice";
import { Section } from "../ui/Section";

/** What a day and a case cost, from a run or from the pulse, and every cost that is not a team's. */
export function CostsView({ study }: { study: StudyDocument }) {
  const currency = study.currency ?? "EUR";
  return (
    <div className="pb-4">
      <Adding study={study} currency={currency} />
      <div className="mt-4 grid grid-cols-2 gap-x-8 max-[1100px]:grid-cols-1">
        <Section title={`Case types, ${currency}`}>
          <Amounts
            parts={study.case_types.map(({ id, name }) => ({ id, name, at: `case_types/${id}` }))}
            kind="type"
            columns={[
              { key: "waiting_cost", words: "an hour of waiting" },
              { key: "inside_cost", words: "an hour inside" },
              { key: "value", words: "value when completed" },
            ]}
            none="There are no case types. Add one, and say what its waiting costs."
          />
        </Section>
        <Section title={`Steps, ${currency} each time`}>
          <Amounts
            parts={study.steps
              .filter((step) => step.kind === "serve" || step.kind === "delay" || step.kind === "signal")
              .map(({ id, name }) => ({ id, name, at: `steps/${id}` }))}
            kind="step"
            columns={[{ key: "cost", words: "a visit" }]}
            none="There is no step yet."
          />
          <Amounts
            parts={study.steps.filter((step) => step.kind === "exit").map(({ id, name }) => ({ id, name, at: `steps/${id}` }))}
            kind="step"
            columns={[{ key: "penalty", words: "who leaves here" }]}
            none="There is no exit yet."
          />
        </Section>
      </div>
    </div>
  );
}

type Source = "run" | "pulse";

/** The picture that adds up, of the last run or of the pulse; the pulse where the study has changed since. */
function Adding({ study, currency }: { study: StudyDocument; currency: string }) {
  const id = useStudy((state) => state.id);
  const isCurrent = useStudy((state) => state.save === "saved");
  const version = useStudy((state) => state.version);
  const weeks = usePulse((state) => state.weeks);
  const scenario = useStudy((state) => state.scenario);
  const run = useRuns(id).data?.find((each) => partOf(each, scenario));
  const figures = useFindings(run, run && partOf(run, scenario));
  const [chosen, setChosen] = useState<Source | null>(null);
  const source = run ? (chosen ?? (isCurrent && run.version === version ? "run" : "pulse")) : "pulse";
  const lines = source === "run" ? figures.data?.costs : costsOf(weeks);
  const value = source === "run" ? (figures.data?.figures["cost/value/per:day"]?.mean ?? 0) : 0;
  return (
    <section aria-label="What it costs">
      <p className="mb-2 text-ink-2">
        What a day and a case cost, by{" "}
        {run ? (
          <Choice
            label="By what the costs are told"
            value={source}
            options={[
              { value: "run", label: `run ${run.number}${run.version === version ? "" : `, of version ${run.version}`}` },
              { value: "pulse", label: "the pulse" },
            ]}
            onChoose={(next) => setChosen(next as Source)}
          />
        ) : (
          "the pulse, until there is a run"
        )}
        . Money is in <ReadAt at="currency" label="Currency" parse={readCurrency} fallback="EUR" />
      </p>
      {lines && lines.length > 0 ? (
        <CostLines lines={lines} teamName={(team) => nameOf(study, "team", team)} currency={currency} />
      ) : (
        <p className="text-ink-2">{lines ? "Nothing costs anything yet." : "Reading the figures …"}</p>
      )}
      {value > 0 && <p className="mt-1 text-ink-2">Completed cases are worth {`${currency} ${money(value)}`} a day beside that.</p>}
    </section>
  );
}

interface AmountsProps {
  parts: { id: string; name: string; at: At }[];
  kind: "type" | "step";
  columns: { key: string; words: string }[];
  none: string;
}

/** Some amounts of each of several things, typed in place. */
function Amounts({ parts, kind, columns, none }: AmountsProps) {
  if (parts.length === 0) return <p className="text-ink-2">{none}</p>;
  return (
    <table className="mb-2 w-full">
      <thead className="text-sm text-ink-2">
        <tr>
          <th>
            <span className="sr-only">Name</span>
          </th>
          {columns.map(({ key, words }) => (
            <th key={key} scope="col" className="w-24 pb-1 text-right align-bottom leading-tight font-normal">
              {words}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {parts.map(({ id, name, at }) => (
          <tr key={id}>
            <th scope="row" className="text-left font-normal">
              <button type="button" className="text-left font-semibold hover:underline" onClick={() => select({ kind, id })}>
                {name}
              </button>
            </th>
            {columns.map(({ key, words }) => (
              <td key={key} className="py-0.5 text-right">
                <NumberAt at={within(at, key)} label={`${name}: ${words}`} low={0} high={1e9} fallback={0} />
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
