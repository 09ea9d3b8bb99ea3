import { Popover } from "radix-ui";
import { useState } from "react";
import type { Problem } from "../api/client";
import { nameOf, PARTS, partAt } from "../study/document/parts";
import { useStudy } from "../study/session/store";
import { useJump } from "./jump";
import { usePulse } from "./usePulse";

/** All that is wrong or doubtful in the study, each leading to its place. */
export function HealthList() {
  const found = useStudy((state) => state.problems);
  const seen = usePulse((state) => state.doubts);
  const problems = [...found, ...seen];
  const study = useStudy((state) => state.document);
  const jump = useJump();
  const [open, setOpen] = useState(false);
  const errors = problems.filter((problem) => problem.level === "error").length;
  const first = problems[0];
  const place = (problem: Problem) => {
    const part = partAt(problem.where);
    return part ? `${PARTS[part.kind].word} ${nameOf(study, part.kind, part.id)}` : problem.where.startsWith("run/") ? "Run" : "Study";
  };
  if (!first) return <p className="text-sm text-ink-2">Nothing is wrong or doubtful.</p>;
  const go = (where: string) => {
    setOpen(false);
    jump(where);
  };
  return (
    <div className={`text-sm ${first.level === "error" ? "text-wrong" : ""}`}>
      <p className="line-clamp-2" title={`${first.what} ${first.mend}`}>
        {first.what}
      </p>
      <span className="flex gap-3">
        <button type="button" className="font-bold underline" onClick={() => go(first.where)}>
          Show
        </button>
        {problems.length > 1 && (
          <Popover.Root open={open} onOpenChange={setOpen}>
            <Popover.Trigger className="whitespace-nowrap underline">
              all {problems.length}
              {errors > 0 && errors < problems.length ? `, ${errors} wrong` : ""}
            </Popover.Trigger>
            <Popover.Portal>
              <Popover.Content
                side="top"
                align="end"
                sideOffset={8}
                aria-label="Health checks"
                className="z-50 max-h-[60vh] w-[30rem] max-w-[92vw] overflow-auto rounded-md border border-rule bg-sheet py-1
                  text-sm shadow-xl"
              >
                <ul>
                  {problems.map((problem) => (
                    <li key={problem.where + problem.what}>
                      <button
                        type="button"
                        className="block w-full px-3 py-1.5 text-left hover:bg-marker-light focus:bg-marker-light"
                        onClick={() => go(problem.where)}
                      >
                        <span className="flex justify-between gap-3">
                          <b>{place(problem)}</b>
                          <span className={problem.level === "error" ? "text-wrong" : "text-ink-2"}>
                            {problem.level === "error" ? "wrong" : "doubtful"}
                          </span>
                        </span>
                        {problem.what} <span className="text-ink-2">{problem.mend}</span>
                      </button>
                    </li>
                  ))}
                </ul>
              </Popover.Content>
            </Popover.Portal>
          </Popover.Root>
        )}
      </span>
    </div>
  );
}
