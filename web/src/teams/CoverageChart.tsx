import { DAY, timeOfDay } from "../study/values/days";
import { QUARTER } from "../study/values/rosters";
import { type Coverage, ENOUGH, gapInWords, gapsIn, type Span } from "./coverage";

const HEIGHT = 120;
const FEW_GAPS = 3;

interface CoverageChartProps {
  label: string;
  coverage: Coverage;
  span: Span;
}

/** How many are there as a line over how many the work needs; where they are too few, what lacks. */
export function CoverageChart({ label, coverage, span }: CoverageChartProps) {
  const { there, needed } = coverage;
  const most = Math.max(1, Math.ceil(Math.max(...there, ...needed) * 1.1));
  const wide = span.to - span.from;
  const isWeek = wide > 2 * DAY;
  const y = (people: number) => HEIGHT * (1 - people / most);
  const gaps = gapsIn(coverage, span.from);
  const said = gaps.toSorted((one, other) => other.by - one.by).slice(0, FEW_GAPS);
  const step = most > 12 ? Math.ceil(most / 4) : most > 5 ? 2 : 1;
  const ticks = Array.from({ length: Math.floor(most / step) }, (_, n) => (n + 1) * step);
  return (
    <div className="relative">
      <svg
        role="img"
        aria-label={`${label}. ${gaps.map((gap) => gapInWords(gap, isWeek)).join("; ") || "Enough people all the time."}`}
        viewBox={`0 0 ${wide} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="block h-30 w-full"
      >
        <path d={areaOf(needed, y)} fill="var(--marker-soft)" />
        {needed.map((need, n) => {
          const has = there[n] ?? 0;
          return need - has > ENOUGH ? (
            <rect key={n} x={n * QUARTER} y={y(need)} width={QUARTER} height={y(has) - y(need)} fill="var(--wrong)" />
          ) : null;
        })}
        <path d={stepsOf(there, y)} fill="none" stroke="var(--ink)" strokeWidth={2.5} vectorEffect="non-scaling-stroke" />
        <path d={`M0,${HEIGHT}H${wide}`} stroke="var(--ink)" vectorEffect="non-scaling-stroke" />
      </svg>
      {ticks.map((people) => (
        <span key={people} aria-hidden className="absolute -left-5 -translate-y-1/2 text-xs text-ink-2" style={{ top: y(people) }}>
          {people}
        </span>
      ))}
      {said.length > 0 && (
        <p aria-hidden className="absolute -top-5 right-0 text-sm font-bold text-wrong">
          {said
            .toSorted((one, other) => one.from - other.from)
            .map((gap) => gapInWords(gap, isWeek))
            .join(", ")}
          {gaps.length > said.length && ` and ${gaps.length - said.length} more`}
        </p>
      )}
    </div>
  );
}

/** Steps along the quarters of an hour. */
const stepsOf = (values: number[], y: (people: number) => number) =>
  values.map((value, n) => `${n === 0 ? "M0," : "V"}${y(value)}H${(n + 1) * QUARTER}`).join("");

const areaOf = (values: number[], y: (people: number) => number) => `${stepsOf(values, y)}V${HEIGHT}H0Z`;

/** The hours of a day, or the days of a week, over the board. */
export function TimeAxis({ span, names }: { span: Span; names?: string[] }) {
  const wide = span.to - span.from;
  const every = names ? DAY : wide > 11 * 60 ? 120 : 60;
  const marks = Array.from({ length: Math.floor(wide / every) + (names ? 0 : 1) }, (_, n) => span.from + n * every);
  return (
    <div aria-hidden className="relative h-6 text-sm text-ink-2">
      {marks.map((minute, n) => (
        <span
          key={minute}
          className={`absolute whitespace-nowrap ${names ? "pl-1" : "-translate-x-1/2 even:max-[1100px]:hidden"}`}
          style={{ left: `${((minute - span.from) / wide) * 100}%` }}
        >
          {names?.[n] ?? timeOfDay(minute % DAY)}
        </span>
      ))}
    </div>
  );
}
