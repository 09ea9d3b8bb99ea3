import type { Schemas } from "../api/client";
import type { Run } from "../api/queries";
import type { Serve, StudyDocument } from "../study/document/types";
import { type FigureOf, inWords, percent, round } from "./figures";

interface HeadlineProps {
  study: StudyDocument;
  run: Run;
  figures: Schemas["Figures"];
  figure: FigureOf;
}

const STILL_INSIDE = 0.03;
const FULL = 0.995;

/** The findings in a few sentences, and how far they can be trusted. */
export function Headline({ study, run, figures, figure }: HeadlineProps) {
  const mean = (address: string) => figure(address)?.mean ?? null;
  const longest = longestWait(study, mean);
  const busiest = longest && busiestTeam(study, longest, mean);
  const wait = figure("type/all/wait/mean");
  const precision = wait?.half_width != null && wait.mean ? wait.half_width / wait.mean : null;
  const value = "underline decoration-2 underline-offset-4";
  return (
    <header>
      <h1 className="text-xl font-bold leading-8">
        Half of the cases wait under <span className={value}>{inWords(mean("type/all/wait/p50"))}</span>, one in ten over <span className={value}>{inWords(mean("type/all/wait/p90"))}</span>.
        {longest && (
          <>
            {" "}
            They wait longest at <span className={value}>{longest.name}</span>
            {busiest && <>, where {busiest.name} are at work <span className={value}>{percent(busiest.load)}</span> of the time</>}.
          </>
        )}
      </h1>
      <p className="mt-1.5 text-sm text-ink-2">
        {run.done} {run.done === 1 ? "replication" : "replications"} of {run.length}, {round(mean("type/all/completed"))} cases in each.{" "}
        {figures.replications === 1 ? (
          <b className="text-ink">One replication is one possible course of events: run it 10 times or more.</b>
        ) : (
          precision !== null && <>The mean wait is good to ± {round(precision * 100)} %, with intervals at {round(figures.confidence * 100).replace(".0", "")} %.</>
        )}
        {run.state === "stopped" && <b className="text-ink"> Stopped after {run.done} of {run.replications}.</b>}
      </p>
      <Doubts study={study} mean={mean} />
    </header>
  );
}

type Mean = (address: string) => number | null;

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

function Doubts({ study, mean }: { study: StudyDocument; mean: Mean }) {
  const inside = mean("type/all/inside/end") ?? 0;
  const completed = mean("type/all/completed") ?? 0;
  const doubts = study.teams
    .filter((team) => (mean(`team/${team.id}/utilisation`) ?? 0) >= FULL)
    .map((team) => `${team.name} were at work without a pause: their lines grow as long as cases come, and every wait is a lower bound.`);
  if (inside > STILL_INSIDE * completed) doubts.push(`${round(inside)} cases were still inside at the end: the figures are of those that left.`);
  return (
    <>
      {doubts.map((doubt) => (
        <p key={doubt} className="mt-1 border-l-2 border-wrong pl-2 text-sm font-semibold text-wrong">
          {doubt}
        </p>
      ))}
    </>
  );
}
