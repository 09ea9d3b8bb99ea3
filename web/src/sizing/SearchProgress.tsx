import type { Search } from "../api/queries";
import { useStudy } from "../study/session/store";
import { aboutSeconds } from "../study/values/durations";
import { money } from "../study/values/figures";
import { Bar } from "../ui/Bar";
import { LINK_BUTTON } from "../ui/Menu";
import { useSteering } from "./useSearch";

/** How far a search is: what it does, the cheapest so far, about how much longer it takes, and a way to stop it. */
export function SearchProgress({ search }: { search: Search }) {
  const { stop } = useSteering(search);
  const currency = useStudy((state) => state.document.currency ?? "EUR");
  const { progress, seconds, seconds_left: left } = search;
  const share = left === null ? 0 : seconds / Math.max(seconds + left, 1e-9);
  return (
    <section aria-label="Progress of the search" className="mb-4 max-w-3xl">
      <div className="mb-1 flex items-baseline justify-between gap-4">
        <b aria-live="polite">{search.state === "stopping" ? "Stopping: the best so far is written down" : stageOf(search)}</b>
        <span className="whitespace-nowrap text-sm text-ink-2">{left === null ? "" : `about ${aboutSeconds(left)} more`}</span>
      </div>
      <Bar label="Search" done={Math.round(100 * share)} of={100} />
      {progress && (
        <p className="mt-1 text-sm text-ink-2">
          {progress.tried.toLocaleString("en")} tried in {progress.replications.toLocaleString("en")} replications;{" "}
          {progress.cost === null
            ? "none of them holds yet."
            : `the cheapest that seems to hold costs ${currency} ${money(progress.cost)} a week.`}
        </p>
      )}
      <button
        type="button"
        className={`${LINK_BUTTON} mt-2`}
        onClick={() => stop.mutate()}
        disabled={stop.isPending || search.state === "stopping"}
      >
        Stop and keep the best so far
      </button>
    </section>
  );
}

const stageOf = ({ progress, state }: Search) => progress?.stage ?? (state === "waiting" ? "Waiting for a worker" : "Beginning");
