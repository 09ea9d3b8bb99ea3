import type { Schemas } from "../api/client";
import type { FigureAddress } from "../api/figures";
import type { Run } from "../api/queries";
import type { Serve, StudyDocument } from "../study/document/types";
import { minutes, readable } from "../study/values/durations";
import { type FigureOf, inWords, percent, round } from "./figures";

interface HeadlineProps {
  study: StudyDocument;
  run: Run;
  figures: Schemas["Figures"];
  figure: FigureOf;
}

/** The findings in a few sentences, and how far they can be trusted. */
export function Headline({ study, run, figures, figure }: HeadlineProps) {
  const mean: Mean = (address) => figure(address)?.mean ?? null;
  const longest = longestWait(study, mean);
  const busiest = longest && busiestTeam(study, longest, mean);
  const wait = figure("type/all/wait/mean");
  const precision = wait?.half_width != null && wait.mean ? wait.half_width / wait.mean : null;
  const replications = `${run.done} ${run.done === 1 ? "replication" : "replications"}`;
  const value = "underline decoration-2 underline-offset-4";
  return (
    <header>
      <h1 className="text-xl font-bold leading-8">
        Half of the cases wait under <span className={value}>{inWords(mean("type/all/wait/p50"))}</span>, one in ten over{" "}
        <span className={value}>{inWords(mean("type/all/wait/p90"))}</span>.
        {longest && (
          <>
            {" "}
            They wait longest at <span className={value}>{longest.name}</span>
            {busiest && (
              <>
                , where {busiest.name} are at work <span className={value}>{percent(busiest.load)}</span> of the time
              </>
            )}
            .
          </>
        )}
      </h1>
      <p className="mt-1.5 text-sm text-ink-2">
        {replications} of {run.length}, {round(mean("type/all/completed"))} cases in each.{" "}
        {precision !== null && (
          <>
            The mean wait is good to ± {round(precision * 100)} %, with intervals at {round(figures.confidence * 100).replace(".0", "")} %.
          </>
        )}
        {run.state === "stopped" && (
          <b className="text-ink">
            {" "}
            Stopped after {run.done} of {run.replications}.
          </b>
        )}
      </p>
      <Doubts figures={figures} warmUp={minutes(study.run.warm_up)} />
    </header>
  );
}

type Mean = (address: FigureAddress) => number | null;

/** The step with the longest mean wait, if anyone waits at all. */
function longestWait(study: StudyDocument, mean: Mean): Serve | undefined {
  const wait = (step: Serve) => mean(`step/${step.id}/wait/mean`) ?? 0;
  const steps = study.steps.filter((step): step is Serve => step.kind === "serve" && wait(step) > 0);
  return steps.toSorted((one, other) => wait(other) - wait(one))[0];
}

/** The team that a step needs and that is at work most. */
function busiestTeam(study: StudyDocument, step: Serve, mean: Mean) {
  const teams = study.teams.filter((team) => step.needs?.some((need) => need.team === team.id));
  const loads = teams.map((team) => ({ name: team.name, load: mean(`team/${team.id}/utilisation`) ?? 0 }));
  return loads.toSorted((one, other) => other.load - one.load)[0];
}

/** What makes the figures doubtful, in the engine's words, and how much of the beginning had better be left out. */
function Doubts({ figures, warmUp }: { figures: Schemas["Figures"]; warmUp: number }) {
  const proposed = figures.proposed_warm_up ?? 0;
  return (
    <>
      {figures.doubts.map((doubt) => (
        <p key={doubt.what} className="mt-1 border-l-2 border-wrong pl-2 text-sm">
          <b className="text-wrong">{doubt.what}</b> <span className="text-ink-2">{doubt.mend}</span>
        </p>
      ))}
      {proposed > warmUp && (
        <p className="mt-1 text-sm text-ink-2">
          The first {readable(proposed)} are unlike the rest: a warm-up of {readable(proposed)} would leave them out.
        </p>
      )}
    </>
  );
}
