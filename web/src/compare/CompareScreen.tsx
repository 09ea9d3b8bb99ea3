import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask, type Schemas } from "../api/client";
import { type Run, useRuns } from "../api/queries";
import { useRunStudy } from "../findings/useRunStudy";
import type { StudyDocument } from "../study/document/types";
import { useStudy } from "../study/session/store";
import { Choice } from "../ui/Choice";
import { ChangesSheet } from "./ChangesSheet";
import { MeasureRow } from "./MeasureRow";
import { Verdicts } from "./Verdicts";

/** Two runs of a study side by side: measures as rows, each difference with its interval and a verdict. */
export function CompareScreen() {
  const id = useStudy((state) => state.id);
  const runs = useRuns(id).data?.filter((run) => run.done > 0);
  const [chosen, setChosen] = useState<{ first?: number; other?: number }>({});
  const other = runs?.find((run) => run.id === chosen.other) ?? runs?.[0];
  const first = runs?.find((run) => run.id === chosen.first) ?? runs?.find((run) => run.id !== other?.id);
  const study = useRunStudy(other);
  const against = useQuery({
    queryKey: ["against", first?.id, first?.done, other?.id, other?.done],
    enabled: first !== undefined && other !== undefined,
    queryFn: () =>
      ask(
        api.GET("/api/runs/{run_id}/against/{other_id}", {
          params: { path: { run_id: first?.id ?? 0, other_id: other?.id ?? 0 } },
        }),
      ),
  });
  if (runs && (!first || !other)) {
    return (
      <main className="p-8">
        <h1 className="text-xl font-bold">Nothing to compare yet</h1>
        <p className="mt-2 max-w-xl text-ink-2">
          A comparison needs two runs.{" "}
          {runs.length === 0 ? "Run the study as it is today first." : "Change one thing in the study and run it again."}
        </p>
      </main>
    );
  }
  if (!first || !other || !against.data || !study)
    return (
      <main aria-busy className="p-8 text-ink-2">
        {against.error?.message ?? "Comparing …"}
      </main>
    );
  const options = (runs ?? []).map((run) => ({ value: String(run.id), label: labelOf(run) }));
  return (
    <div className="flex h-full min-h-0">
      <main className="min-w-0 flex-1 overflow-y-auto px-6.5 py-5">
        <Verdicts study={study} against={against.data} />
        <table className="mt-3 w-full table-fixed">
          <thead>
            <tr className="align-bottom">
              <th className="w-[37%]">
                <span className="sr-only">Measure</span>
              </th>
              <th className="w-[19%] border-b-[3px] border-ink pb-1.5 text-left">
                <Choice
                  label="First run"
                  value={String(first.id)}
                  options={options}
                  onChoose={(run) => setChosen({ first: Number(run), other: other.id })}
                />
              </th>
              <th className="border-b-[3px] border-marker pb-1.5 text-left">
                <Choice
                  label="Second run"
                  value={String(other.id)}
                  options={options}
                  onChoose={(run) => setChosen({ first: first.id, other: Number(run) })}
                />
              </th>
            </tr>
          </thead>
          <tbody>
            {against.data.differences
              .filter((difference) => isShown(difference, study))
              .map((difference) => {
                const title = against.data.titles[difference.address];
                return title && <MeasureRow key={difference.address} title={title} difference={difference} />;
              })}
          </tbody>
        </table>
      </main>
      <ChangesSheet against={against.data} first={first} other={other} />
    </div>
  );
}

/** What says nothing is left out: nobody gave up, nobody is waited for, one case type is all there is. */
function isShown({ address, first, other }: Schemas["Difference"], study: StudyDocument): boolean {
  const [subject, id, quantity] = address.split("/");
  if (quantity === "abandoned" && !first.mean && !other.mean) return false;
  const step = subject === "step" ? study.steps.find((each) => each.id === id) : undefined;
  if (subject === "step") return step?.kind === "serve" && (step.needs ?? []).length > 0;
  return !(subject === "type" && id !== "all" && study.case_types.length === 1);
}

function labelOf(run: Run): string {
  return `Run ${run.number}, version ${run.version}`;
}
