import { useEffect } from "react";
import { useLocation, useNavigate } from "react-router";
import { isOver, type Run, useRuns } from "../api/queries";
import { UntilAt } from "../fields/UntilAt";
import type { RunSettings } from "../study/document/types";
import { edit, useStudy } from "../study/session/store";
import { parseDuration } from "../study/values/durations";
import { MAIN_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { numberBetween, ValueField } from "../ui/ValueField";
import { Estimate } from "./Estimate";
import { PastRuns } from "./PastRuns";
import { PrecisionSentence } from "./Precision";
import { Progress } from "./Progress";
import { useToRun } from "./toRun";
import { useStartRun } from "./useStartRun";
import { WarmUp } from "./WarmUp";
import { WhatIsRun } from "./WhatIsRun";

/** How long and how often to run, how far it is, and the runs so far. */
export function RunScreen() {
  const id = useStudy((state) => state.id);
  const settings = useStudy((state) => state.document.run);
  const problems = useStudy((state) => state.problems);
  const runs = useRuns(id);
  const start = useStartRun();
  const toRun = useToRun();
  const going = runs.data?.filter((run) => !isOver(run)) ?? [];
  const past = runs.data?.filter(isOver) ?? [];
  useFollow(runs.data);
  const errors = problems.filter((problem) => problem.level === "error");
  return (
    <main className="h-full overflow-y-auto px-7 py-6">
      <h1 className="sr-only">Run</h1>
      <SettingsSentence run={settings} />
      <PrecisionSentence run={settings} />
      <WarmUp />
      <ProblemNotes problems={problems.filter((problem) => problem.where.startsWith("run/"))} />
      <WhatIsRun />
      <div className="mt-5 flex items-center gap-4">
        <button
          type="button"
          className={MAIN_BUTTON}
          onClick={() => start.mutate(null)}
          disabled={start.isPending || errors.length > 0 || toRun.length === 0}
        >
          {toRun.length === 1 ? "Run it" : `Run ${toRun.length} scenarios`}
        </button>
        {runs.data && going.length === 0 && <Estimate toRun={toRun} />}
        {errors.length > 0 && (
          <p className="text-sm text-wrong">
            {errors.length === 1 ? "One thing is" : `${errors.length} things are`} wrong in the study; see the strip below.
          </p>
        )}
      </div>
      {going.map((run) => (
        <Progress key={run.id} run={run} />
      ))}
      {past.length > 0 ? (
        <PastRuns runs={past} />
      ) : (
        going.length === 0 &&
        runs.data && (
          <p className="mt-8 max-w-xl border-t border-rule pt-4 text-ink-2">
            There is no run yet. A run plays the study through again and again, each time with other luck, and says how sure its figures
            are.
          </p>
        )
      )}
    </main>
  );
}

function SettingsSentence({ run }: { run: RunSettings }) {
  const set = <Key extends keyof RunSettings>(key: Key, what: string, value: RunSettings[Key]) =>
    edit(`Run: ${what} ${String(value)}`, (study) => void (study.run[key] = value));
  return (
    <p className="max-w-3xl text-xl leading-10">
      Run <ValueField label="Length" value={run.length} parse={parseDuration} onCommit={(value) => set("length", "length", value)} />,
      without counting the first{" "}
      <ValueField label="Warm-up" value={run.warm_up} parse={parseDuration} onCommit={(value) => set("warm_up", "warm-up", value)} />,{" "}
      <ValueField
        label="Replications"
        value={String(run.replications)}
        parse={numberBetween(1, 10000, true)}
        onCommit={(value) => set("replications", "replications", Number(value))}
      />{" "}
      times. A run <UntilAt />. Intervals at{" "}
      <ValueField
        label="Confidence"
        value={String(Math.round(run.confidence * 1000) / 10)}
        suffix="%"
        parse={numberBetween(50, 99.9)}
        onCommit={(value) => set("confidence", "confidence", Number(value) / 100)}
      />{" "}
      confidence. Luck from seed{" "}
      <ValueField
        label="Seed"
        value={String(run.seed)}
        parse={numberBetween(0, Number.MAX_SAFE_INTEGER, true)}
        onCommit={(value) => set("seed", "seed", Number(value))}
      />
      .
    </p>
  );
}

/** Goes to what the run says that was just started when it is done: of several scenarios, to their comparison. */
function useFollow(runs: Run[] | undefined): void {
  const navigate = useNavigate();
  const { state } = useLocation();
  const followed: unknown = state?.follow;
  const run = runs?.find((each) => each.id === followed);
  const isDone = run?.state === "done";
  useEffect(() => {
    if (run && isDone) void navigate(`/studies/${run.study}/${run.parts.length > 1 ? "compare" : `findings/${run.id}`}`, { replace: true });
  }, [run, isDone, navigate]);
}
