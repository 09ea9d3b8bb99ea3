import { Activity } from "lucide-react";
import { useNavigate } from "react-router";
import { type Selection, select, useStudy } from "../study/store";

const SHOWN = 3;

/** The strip along the bottom: what is wrong or doubtful in the study right now. */
export function PulseStrip() {
  const { id, problems, document } = useStudy();
  const navigate = useNavigate();
  const show = (where: string) => {
    void navigate(`/studies/${id}/${where.startsWith("run/") ? "run" : "flow"}`);
    select(selectionAt(where));
  };
  return (
    <section aria-label="Health checks" className="flex h-15 shrink-0 items-center gap-4 border-t-2 border-ink bg-sheet px-4 text-sm">
      <Activity size={24} aria-hidden className="shrink-0" />
      {problems.length === 0 && (
        <p className="text-ink-2">
          {counted(document.steps.length, "step")}, {counted(document.teams.length, "team")}: nothing is wrong or doubtful.
        </p>
      )}
      {problems.slice(0, SHOWN).map((problem) => (
        <button
          key={problem.where + problem.what}
          type="button"
          title={`${problem.what} ${problem.mend}`}
          onClick={() => show(problem.where)}
          className={`line-clamp-2 max-w-96 border-l-2 pl-2 text-left hover:underline ${problem.level === "error" ? "border-wrong font-semibold text-wrong" : "border-ink"}`}
        >
          {problem.what} <span className="font-normal text-ink-2">{problem.mend}</span>
        </button>
      ))}
      {problems.length > SHOWN && <p className="whitespace-nowrap text-ink-2">and {problems.length - SHOWN} more</p>}
    </section>
  );
}

const counted = (count: number, word: string) => `${count} ${word}${count === 1 ? "" : "s"}`;

const KINDS: Record<string, "step" | "stream" | "team" | "type"> = { steps: "step", streams: "stream", teams: "team", case_types: "type" };

function selectionAt(where: string): Selection {
  const [part, id] = where.split("/");
  const kind = KINDS[part ?? ""];
  return kind && id ? { kind, id } : null;
}
