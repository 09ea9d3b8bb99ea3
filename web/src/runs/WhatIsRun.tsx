import { chooseToRun, useRunnable } from "./toRun";

/** The study as it is and its scenarios, to be ticked; where there are none, nothing is to be chosen. */
export function WhatIsRun() {
  const runnable = useRunnable();
  if (runnable.length < 2) return null;
  return (
    <fieldset className="mt-4 max-w-3xl">
      <legend className="mb-1 text-sm text-ink-2">What is run, all on the same luck</legend>
      <div className="flex max-h-40 flex-wrap gap-x-6 gap-y-1 overflow-y-auto">
        {runnable.map(({ id, name, isChosen }) => (
          <label key={id} className="flex items-center gap-2">
            <input
              type="checkbox"
              className="size-4 accent-ink"
              checked={isChosen}
              onChange={(event) => chooseToRun(id, event.target.checked)}
            />
            {name}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
