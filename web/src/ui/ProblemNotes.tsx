import type { Problem } from "../api/client";

/** Problems under the thing they are about: what is wrong, and the mend. */
export function ProblemNotes({ problems }: { problems: Problem[] }) {
  if (problems.length === 0) return null;
  return (
    <ul className="mt-2 space-y-1.5 text-sm">
      {problems.map((problem) => (
        <li
          key={`${problem.where} ${problem.what}`}
          className={`border-l-2 pl-2 ${problem.level === "error" ? "border-wrong text-wrong" : "border-ink text-ink"}`}
        >
          {problem.what} <span className="text-ink-2">{problem.mend}</span>
        </li>
      ))}
    </ul>
  );
}
