import { Link } from "react-router";
import type { Schemas } from "../api/client";
import { type Run, type RunPart, useCatalogue, useComparison } from "../api/queries";
import { percent, round, withInterval } from "../study/values/figures";
import { Bar } from "../ui/Bar";
import { LINK_BUTTON } from "../ui/Menu";
import { lookAt } from "./looks";
import { useStop } from "./useStop";

/** How far a run is, scenario by scenario, with the figures as they narrow. */
export function Progress({ run }: { run: Run }) {
  const stop = useStop(run);
  const watched = useCatalogue()?.watched ?? [];
  const isCompared = run.parts.length > 1;
  const whole = isCompared && run.done > 0 && watched.length > 0 ? [`${run.id}:*`] : [];
  const seen = useComparison(run.study, { column: whole }, lookAt(run.done), { address: watched }).data;
  const figuresOf = (part: RunPart) => {
    const column = seen?.columns.findIndex((each) => each.run === run.id && each.scenario === part.scenario) ?? -1;
    return (seen?.rows ?? []).map(({ address, cells }) => ({ address, figure: cells[column]?.figure ?? undefined }));
  };
  return (
    <section aria-label={`Progress of run ${run.number}`} className="mt-6 max-w-4xl">
      <div className="mb-1 flex items-baseline justify-between">
        <b>{run.name || `Run ${run.number}`}</b>
        <span className="text-sm text-ink-2">
          {run.done} of {run.replications} replications
        </span>
      </div>
      <Bar label={`Run ${run.number}`} done={run.done} of={run.replications} />
      {isCompared && (
        <div className="mt-2 max-h-72 overflow-y-auto">
          <table className="w-full text-sm">
            <thead className="text-left text-ink-2">
              <tr>
                <th className="font-normal">Scenario</th>
                <th className="font-normal">Replications</th>
                {(seen?.rows ?? []).map(({ address, title }) => (
                  <th key={address} className="font-normal">
                    {title.name}, {title.of}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {run.parts.map((part) => (
                <PartRow key={part.scenario} part={part} figures={figuresOf(part)} />
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="mt-2 flex gap-x-5">
        {run.done > 0 && (
          <Link to={`/studies/${run.study}/findings/${run.id}`} className={LINK_BUTTON}>
            What it says so far
          </Link>
        )}
        <button type="button" className={LINK_BUTTON} onClick={() => stop.mutate()} disabled={stop.isPending}>
          Stop and keep what is done
        </button>
      </p>
    </section>
  );
}

interface PartRowProps {
  part: RunPart;
  figures: { address: string; figure: Schemas["Estimate"] | undefined }[];
}

function PartRow({ part, figures }: PartRowProps) {
  return (
    <tr className="border-t border-rule">
      <td className="py-1 pr-3 font-semibold">
        {part.name}
        {part.stored > 0 && <span className="ml-2 font-normal text-ink-2">{part.stored} were stored</span>}
        {part.problem && <span className="block font-normal text-wrong">{part.problem}</span>}
      </td>
      <td className="pr-3">
        <span className="inline-flex w-36 items-center gap-2">
          <Bar label={part.name} done={part.done} of={part.replications} />
          <span className="w-10 shrink-0 text-right">{percent(part.done / part.replications)}</span>
        </span>
      </td>
      {figures.map(({ address, figure }) => {
        const { mean, half } = withInterval(figure, 1, round);
        return (
          <td key={address} className="whitespace-nowrap pr-3">
            {mean} <span className="text-ink-2">{half}</span>
          </td>
        );
      })}
    </tr>
  );
}
