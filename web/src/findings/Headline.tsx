import type { Schemas } from "../api/client";
import type { Run, RunPart } from "../api/queries";
import { SentenceText } from "../ui/SentenceText";

interface HeadlineProps {
  run: Run;
  part: RunPart;
  figures: Schemas["Figures"];
}

/** The findings in a few sentences, and how far they can be trusted. */
export function Headline({ run, part, figures }: HeadlineProps) {
  return (
    <header>
      <h1 className="text-xl font-bold leading-8">
        <SentenceText pieces={figures.headline} />
      </h1>
      <p className="mt-1.5 text-sm text-ink-2">
        {figures.grounds}
        {run.state === "stopped" && (
          <b className="text-ink">
            {" "}
            Stopped after {part.done} of {part.replications}.
          </b>
        )}
      </p>
      {figures.doubts.map((doubt) => (
        <p key={doubt.what} className="mt-1 border-l-2 border-wrong pl-2 text-sm">
          <b className="text-wrong">{doubt.what}</b> <span className="text-ink-2">{doubt.mend}</span>
        </p>
      ))}
      {figures.to_leave_out && <p className="mt-1 text-sm text-ink-2">{figures.to_leave_out}</p>}
    </header>
  );
}
