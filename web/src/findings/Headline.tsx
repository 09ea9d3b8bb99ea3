import type { Schemas } from "../api/client";
import type { Run, RunPart } from "../api/queries";
import type { StudyDocument } from "../study/document/types";
import { minutes, readable } from "../study/values/durations";
import { SentenceText } from "../ui/SentenceText";
import { type FigureOf, round } from "./figures";

interface HeadlineProps {
  study: StudyDocument;
  run: Run;
  part: RunPart;
  figures: Schemas["Figures"];
  figure: FigureOf;
}

/** The findings in a few sentences, and how far they can be trusted. */
export function Headline({ study, run, part, figures, figure }: HeadlineProps) {
  const wait = figure("type/all/wait/mean");
  const precision = wait?.half_width != null && wait.mean ? wait.half_width / wait.mean : null;
  const replications = `${part.done} ${part.done === 1 ? "replication" : "replications"}`;
  return (
    <header>
      <h1 className="text-xl font-bold leading-8">
        <SentenceText pieces={figures.headline} />
      </h1>
      <p className="mt-1.5 text-sm text-ink-2">
        {replications} of {run.length}, {round(figure("type/all/completed")?.mean)} cases in each.{" "}
        {precision !== null && (
          <>
            The mean wait is good to ± {round(precision * 100)} %, with intervals at {round(figures.confidence * 100).replace(".0", "")} %.
          </>
        )}
        {run.state === "stopped" && (
          <b className="text-ink">
            {" "}
            Stopped after {part.done} of {part.replications}.
          </b>
        )}
      </p>
      <Doubts figures={figures} warmUp={minutes(study.run.warm_up)} />
    </header>
  );
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
