import type { Schemas } from "../api/client";
import type { StudyDocument } from "../study/document/types";
import { percent, round } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { Picture } from "../ui/Picture";
import { Interval } from "./Interval";
import { MinutesPicture } from "./MinutesPicture";
import { type Shown, useSteps } from "./shown";

/** Every step: where the minutes of a visit go, its waits, line and counts. */
export function StepsView({ study, shown }: { study: StudyDocument; shown: Shown }) {
  const steps = useSteps(shown);
  if (!steps) return null;
  const bars = steps.map(({ minutes }) => minutes);
  return (
    <>
      <MinutesPicture title="Where the minutes go, step by step" aside="mean per visit" study={study} bars={bars} />
      <StepsTable steps={steps} />
    </>
  );
}

type Row = Schemas["StepRow"];

const mean = (row: Row, figure: string) => row.figures[figure]?.mean ?? null;
const waitsFor = (row: Row) => mean(row, "line/mean") !== null && row.minutes.whole > 0;

function StepsTable({ steps }: { steps: Row[] }) {
  const unit = spanUnit(Math.max(0, ...steps.map((row) => mean(row, "wait/p90") ?? 0)));
  const head = "py-1 pl-3 text-right font-normal";
  const cell = "py-1.5 pl-3 text-right";
  return (
    <Picture className="mt-4" title="Waits, lines and counts" aside={`waits in ${unit.unit}`} table={() => tableOf(steps)} isDrawn={false}>
      <table aria-label="Steps" className="w-full">
        <thead>
          <tr className="border-b border-ink text-sm text-ink-2">
            <th className="py-1 text-left font-normal">Step</th>
            <th className={head}>mean wait</th>
            <th className={head}>9 in 10 within</th>
            <th className={head}>do not wait</th>
            <th className={head}>in line</th>
            <th className={head}>served</th>
            <th className={head}>gave up</th>
          </tr>
        </thead>
        <tbody>
          {steps.map((row) => {
            const address = `step/${row.minutes.id}`;
            return (
              <tr key={row.minutes.id} className="border-b border-rule">
                <th scope="row" className="py-1.5 text-left font-bold">
                  {row.minutes.name}
                </th>
                {waitsFor(row) ? (
                  <>
                    <td className={cell} data-figure={`${address}/wait/mean`}>
                      <Interval figure={row.figures["wait/mean"]} factor={1 / unit.minutes} />
                    </td>
                    <td className={cell} data-figure={`${address}/wait/p90`}>
                      <Interval figure={row.figures["wait/p90"]} factor={1 / unit.minutes} />
                    </td>
                    <td className={cell}>{percent(mean(row, "wait/none"))}</td>
                    <td className={cell}>{round(mean(row, "line/mean"))}</td>
                  </>
                ) : (
                  <td className={`${cell} text-sm text-ink-2`} colSpan={4}>
                    nobody needed, so nobody waits
                  </td>
                )}
                <td className={cell}>{round(mean(row, "served"))}</td>
                <td className={cell} data-figure={`${address}/abandoned`}>
                  {mean(row, "abandoned") ? round(mean(row, "abandoned")) : ""}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Picture>
  );
}

function tableOf(steps: Row[]) {
  const figures = [
    ["wait/mean", "mean wait, min"],
    ["wait/p90", "9 in 10 within, min"],
    ["wait/none", "share that does not wait"],
    ["line/mean", "in line, cases"],
    ["served", "served in a replication"],
    ["abandoned", "gave up in a replication"],
    ["turned-away", "turned away in a replication"],
  ] as const;
  return {
    head: ["Step", ...figures.flatMap(([, words]) => [words, "±"])],
    rows: steps.map((row) => [
      row.minutes.name,
      ...figures.flatMap(([each]) => [row.figures[each]?.mean ?? null, row.figures[each]?.half_width ?? null]),
    ]),
  };
}
