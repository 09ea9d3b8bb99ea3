import { Link } from "react-router";
import { Estimate } from "../runs/Estimate";
import { useToRun } from "../runs/toRun";
import { useStartRun } from "../runs/useStartRun";
import { WhatIsRun } from "../runs/WhatIsRun";
import { useStudy } from "../study/session/store";
import { MAIN_BUTTON } from "../ui/Menu";

/** What can be run to have something to compare, and how long that takes. */
export function NothingToCompare({ hasRun }: { hasRun: boolean }) {
  const toRun = useToRun();
  const scenarios = useStudy((state) => state.whole.scenarios ?? []);
  const start = useStartRun();
  return (
    <main className="p-8">
      <h1 className="text-xl font-bold">Nothing to compare yet</h1>
      <p className="mt-2 mb-4 max-w-xl text-ink-2">
        A comparison sets scenarios side by side, or two runs.{" "}
        {scenarios.length > 0
          ? "The scenarios of this study can be run now, all on the same luck."
          : hasRun
            ? "Make a scenario and run it too, or change one thing and run again."
            : "Run the study as it is, and a scenario of what you want to try."}
      </p>
      {scenarios.length === 0 ? (
        <Link className={MAIN_BUTTON} to="../scenarios" relative="path">
          Make a scenario
        </Link>
      ) : (
        <>
          <WhatIsRun />
          <div className="mt-5 flex items-center gap-4">
            <button
              type="button"
              className={MAIN_BUTTON}
              onClick={() => start.mutate(null)}
              disabled={start.isPending || toRun.length === 0}
            >
              {toRun.length === 1 ? "Run it" : `Run ${toRun.length} scenarios`}
            </button>
            <Estimate toRun={toRun} />
          </div>
        </>
      )}
    </main>
  );
}
