import type { Schemas } from "../api/client";
import { withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";

export type Cell = Schemas["Cell"];
type Verdict = NonNullable<Cell["verdict"]>;

const LOOK: Record<Verdict, string> = {
  better: "text-better font-bold",
  worse: "text-wrong font-bold",
  higher: "font-bold",
  lower: "font-bold",
  same: "text-ink-2",
  "no clear difference": "text-ink-2",
};

interface MeasureCellProps {
  cell: Cell;
  title: Schemas["Title"];
  /** How far from zero the differences of the row reach, which share a scale. */
  reach: number;
}

/** A measure of one scenario: its value, the paired difference from the baseline with its verdict, and whether the target is kept. */
export function MeasureCell({ cell, title, reach }: MeasureCellProps) {
  if (!cell.figure) return <span className="text-ink-2">not in it</span>;
  const { factor, write } = scaleOf(title);
  const value = withInterval(cell.figure, factor, write);
  return (
    <div className="leading-5">
      <p className="whitespace-nowrap">
        <b>{value.mean}</b> <span className="text-sm text-ink-2">{value.half}</span>
        {cell.keeps && <span className={`ml-1 text-sm ${cell.keeps === "missed" ? "text-wrong" : "text-ink-2"}`}>{cell.keeps}</span>}
      </p>
      {cell.difference && cell.verdict && <DifferenceLine cell={cell} difference={cell.difference} verdict={cell.verdict} title={title} />}
      {cell.difference && cell.verdict && cell.verdict !== "same" && (
        <IntervalMark change={cell.difference} verdict={cell.verdict} reach={reach} />
      )}
    </div>
  );
}

interface DifferenceLineProps {
  cell: Cell;
  difference: Schemas["Estimate"];
  verdict: Verdict;
  title: Schemas["Title"];
}

function DifferenceLine({ cell, difference, verdict, title }: DifferenceLineProps) {
  const { factor, write } = scaleOf(title);
  const mean = difference.mean ?? 0;
  const size = withInterval({ ...difference, mean: Math.abs(mean) }, factor, write);
  const sign = mean > 0 ? "▲" : mean < 0 ? "▼" : "";
  const [first, ...rest] = (cell.words ?? "").split(":");
  return (
    <p className="text-sm">
      {verdict !== "same" && (
        <span className="whitespace-nowrap">
          <span aria-hidden className="mr-0.5 inline-block w-3 text-xs">
            {sign}
          </span>
          <span className="sr-only">{mean > 0 ? "up by" : mean < 0 ? "down by" : ""}</span>
          <b>{size.mean}</b> <span className="text-ink-2">{cell.exact ? "exactly" : size.half}</span>{" "}
        </span>
      )}
      <span className={LOOK[verdict]}>{first}</span>
      {rest.length > 0 && <span className="text-ink-2">:{rest.join(":")}</span>}
    </p>
  );
}

const WIDTH = 110;
const HEIGHT = 14;
const MIDDLE = WIDTH / 2;

/** The interval of a difference against zero; all of a row on one scale. One element, as there may be very many of them. */
function IntervalMark({ change, verdict, reach }: { change: Schemas["Estimate"]; verdict: Verdict; reach: number }) {
  if (change.mean === null || change.low === null || change.high === null) return null;
  const x = (value: number) => MIDDLE + (value / reach) * (MIDDLE - 8);
  const colour = verdict === "better" ? "var(--better)" : verdict === "worse" ? "var(--wrong)" : "var(--ink-2)";
  const box = (ground: string, left: number, top: number, wide: number, high: number) =>
    `linear-gradient(${ground}, ${ground}) ${left}px ${top}px / ${wide}px ${high}px no-repeat`;
  const ring = `var(--paper) 2.75px, ${colour} 3.25px 5px, transparent 5.5px`;
  const mean = `radial-gradient(circle at ${x(change.mean)}px ${HEIGHT / 2}px, ${ring})`;
  const interval = box(colour, x(change.low), HEIGHT / 2 - 2, x(change.high) - x(change.low), 4);
  const zero = box("var(--ink-3)", MIDDLE - 0.75, 0, 1.5, HEIGHT);
  return (
    <span aria-hidden className="mt-0.5 block" style={{ width: WIDTH, height: HEIGHT, background: `${mean}, ${interval}, ${zero}` }} />
  );
}

/** How far from zero the differences of a row reach. */
export function reachOf(cells: Cell[]): number {
  const ends = cells.flatMap(({ difference }) => [difference?.low ?? 0, difference?.high ?? 0]);
  return Math.max(...ends.map(Math.abs), 1e-12);
}
