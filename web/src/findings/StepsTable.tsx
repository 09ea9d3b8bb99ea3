import type { Step, StudyDocument } from "../study/document/types";
import { type FigureOf, percent, round } from "./figures";
import { Interval } from "./Interval";

const hasLine = (step: Step) => step.kind === "serve" && (step.needs ?? []).length > 0;

/** Every step with its waits, line and count. */
export function StepsTable({ study, figure }: { study: StudyDocument; figure: FigureOf }) {
  const steps = study.steps.filter((step) => step.kind === "serve" || step.kind === "delay");
  const mean = (id: string) => figure(`step/${id}/wait/mean`)?.mean ?? 0;
  const longest = Math.max(...steps.map((step) => mean(step.id)), 1e-9);
  const head = "py-1 pl-3 text-right font-normal";
  const cell = "py-1.5 pl-3 text-right";
  return (
    <section aria-label="Steps" className="mt-6">
      <table className="w-full">
        <caption className="text-left text-sm">
          <b>Steps</b> <span className="text-ink-2">waits in minutes</span>
        </caption>
        <thead>
          <tr className="border-b border-ink text-sm text-ink-2">
            <th className="py-1 text-left font-normal">Step</th>
            <th className="w-1/5 py-1">
              <span className="sr-only">Wait as a bar</span>
            </th>
            <th className={head}>mean wait</th>
            <th className={head}>9 in 10 within</th>
            <th className={head}>do not wait</th>
            <th className={head}>in line</th>
            <th className={head}>served</th>
          </tr>
        </thead>
        <tbody>
          {steps.map((step) => (
            <tr key={step.id} className="border-b border-rule">
              <th scope="row" className="py-1.5 text-left font-bold">
                {step.name}
              </th>
              <td aria-hidden>
                <span className="block h-2.5 bg-marker" style={{ width: `${(100 * mean(step.id)) / longest}%` }} />
              </td>
              {hasLine(step) ? (
                <>
                  <td className={cell} data-figure={`step/${step.id}/wait/mean`}>
                    <Interval figure={figure(`step/${step.id}/wait/mean`)} />
                  </td>
                  <td className={cell}>
                    <Interval figure={figure(`step/${step.id}/wait/p90`)} />
                  </td>
                  <td className={cell}>{percent(figure(`step/${step.id}/wait/none`)?.mean)}</td>
                  <td className={cell}>{round(figure(`step/${step.id}/line/mean`)?.mean)}</td>
                </>
              ) : (
                <td className={`${cell} text-sm text-ink-2`} colSpan={4}>
                  nobody needed, so nobody waits
                </td>
              )}
              <td className={cell}>{round(figure(`step/${step.id}/served`)?.mean)}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}
