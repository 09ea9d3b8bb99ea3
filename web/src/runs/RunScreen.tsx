import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import { api, ask } from "../api/client";
import { isOver, type Run, useRuns } from "../api/queries";
import type { RunSettings } from "../study/document/types";
import { edit, useStudy } from "../study/session/store";
import { parseDuration } from "../study/values/durations";
import { LINK_BUTTON, MAIN_BUTTON } from "../ui/Menu";
import { ProblemNotes } from "../ui/ProblemNotes";
import { numberBetween, ValueField } from "../ui/ValueField";
import { useStartRun } from "./useStartRun";

/** How long and how often to run, how far it is, and the runs so far. */
export function RunScreen() {
  const id = useStudy((state) => state.id);
  const settings = useStudy((state) => state.document.run);
  const problems = useStudy((state) => state.problems);
  const runs = useRuns(id);
  const start = useStartRun();
  const going = runs.data?.filter((run) => !isOver(run)) ?? [];
  const past = runs.data?.filter(isOver) ?? [];
  useFollow(runs.data);
  const errors = problems.filter((problem) => problem.level === "error");
  return (
    <main className="h-full overflow-y-auto px-7 py-6">
      <h1 className="sr-only">Run</h1>
      <SettingsSentence run={settings} />
      <ProblemNotes problems={problems.filter((problem) => problem.where.startsWith("run/"))} />
      <div className="mt-5 flex items-center gap-4">
        <button type="button" className={MAIN_BUTTON} onClick={() => start.mutate()} disabled={start.isPending || errors.length > 0}>
          Run it
        </button>
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
      times. Intervals at{" "}
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

/** Goes to the findings when the run that was just started is done. */
function useFollow(runs: Run[] | undefined): void {
  const navigate = useNavigate();
  const { state } = useLocation();
  const followed: unknown = state?.follow;
  const run = runs?.find((each) => each.id === followed);
  const isDone = run?.state === "done";
  useEffect(() => {
    if (run && isDone) void navigate(`/studies/${run.study}/findings/${run.id}`, { replace: true });
  }, [run, isDone, navigate]);
}

function Progress({ run }: { run: Run }) {
  const client = useQueryClient();
  const stop = useMutation({
    mutationFn: () => ask(api.POST("/api/runs/{run_id}/cancel", { params: { path: { run_id: run.id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["runs", run.study] }),
  });
  return (
    <section aria-label={`Progress of run ${run.number}`} className="mt-6 max-w-2xl">
      <div className="mb-1 flex items-baseline justify-between">
        <b>Run {run.number}</b>
        <span className="text-sm text-ink-2">
          {run.done} of {run.replications} replications
        </span>
      </div>
      <div
        role="progressbar"
        aria-label={`Run ${run.number}`}
        aria-valuenow={run.done}
        aria-valuemin={0}
        aria-valuemax={run.replications}
        className="h-3 bg-value"
      >
        <div className="h-full bg-ink transition-[width]" style={{ width: `${(100 * run.done) / run.replications}%` }} />
      </div>
      <button type="button" className={`${LINK_BUTTON} mt-2`} onClick={() => stop.mutate()} disabled={stop.isPending}>
        Stop and keep what is done
      </button>
    </section>
  );
}

const STATE_WORDS: Record<Run["state"], string> = {
  waiting: "waiting",
  running: "running",
  done: "done",
  stopped: "stopped",
  failed: "failed",
};

function PastRuns({ runs }: { runs: Run[] }) {
  return (
    <section className="mt-9 max-w-3xl">
      <h2 className="mb-1 text-sm text-ink-2">Runs so far</h2>
      <table className="w-full">
        <thead className="sr-only">
          <tr>
            <th>Run</th>
            <th>When</th>
            <th>What</th>
            <th>State</th>
            <th>Findings</th>
          </tr>
        </thead>
        <tbody>
          {runs.map((run) => (
            <tr key={run.id} className="border-t border-rule">
              <td className="py-2 font-bold">Run {run.number}</td>
              <td className="text-ink-2">
                {new Date(run.created_at).toLocaleString("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit" })}
              </td>
              <td className="text-ink-2">
                {run.length} × {run.done === run.replications ? run.done : `${run.done} of ${run.replications}`}, version {run.version}
              </td>
              <td>
                {STATE_WORDS[run.state]}
                {run.problem && <span className="block text-sm text-wrong">{run.problem}</span>}
              </td>
              <td className="text-right">
                {run.done > 0 && (
                  <Link className={LINK_BUTTON} to={`../findings/${run.id}`} relative="path">
                    Findings
                  </Link>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
