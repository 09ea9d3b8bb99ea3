import { useCatalogue } from "../api/queries";
import { useStop } from "../runs/useStop";
import { Bar } from "../ui/Bar";
import { LINK_BUTTON } from "../ui/Menu";
import { Narrowing } from "./Narrowing";
import { type Shown, useNarrowed } from "./shown";

/** That a run goes on while it is read: how far it is, how its figures narrow, and a way to stop when that is enough. */
export function GoingOn({ shown }: { shown: Shown }) {
  const { run } = shown;
  const stop = useStop(run);
  const narrowed = useNarrowed(shown, useCatalogue()?.watched ?? []) ?? [];
  return (
    <section aria-label="The run goes on" className="mb-3 border-b border-rule pb-2">
      <p className="flex items-baseline gap-x-4">
        <b className="whitespace-nowrap">
          {run.done.toLocaleString("en")} of {run.replications.toLocaleString("en")} replications so far
        </b>
        <span className="min-w-24 flex-1">
          <Bar label="The run" done={run.done} of={run.replications} />
        </span>
        <button type="button" className={LINK_BUTTON} onClick={() => stop.mutate()} disabled={stop.isPending}>
          Sure enough: stop here
        </button>
      </p>
      <div className="mt-1 flex gap-x-8">
        {narrowed.map((each) => (
          <Narrowing key={each.address} narrowed={each} />
        ))}
      </div>
    </section>
  );
}
