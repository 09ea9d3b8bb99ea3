import type { Schemas } from "../api/client";
import { withInterval } from "../study/values/figures";
import { scaleOf } from "../study/values/scales";
import { useWidth } from "../ui/useWidth";

const HEIGHT = 52;
const [TOP, FOOT] = [6, 46];
/** So many intervals, of very few replications, may reach beyond the picture. */
const FIRST = 2;

/** A figure as it became with more and more replications: its mean, and the interval that narrows round it. */
export function Narrowing({ narrowed: { title, estimates } }: { narrowed: Schemas["Narrowed"] }) {
  const [holder, width] = useWidth<HTMLDivElement>(220);
  const { factor, write } = scaleOf(title);
  const known = estimates.filter((each) => each.mean !== null);
  const sure = known.filter((each) => each.low !== null && each.high !== null);
  const last = known.at(-1);
  const scaled = sure.length > FIRST ? sure.slice(FIRST) : sure;
  const [least, most] = [Math.min(...scaled.map(({ low }) => low ?? 0)), Math.max(...scaled.map(({ high }) => high ?? 0))];
  const x = (n: number) => (width * (n - (known[0]?.n ?? 0))) / Math.max(1, (last?.n ?? 0) - (known[0]?.n ?? 0));
  const y = (value: number) => FOOT - ((FOOT - TOP) * (value - least)) / (most - least || 1);
  const lineOf = (points: { n: number; at: number }[]) => points.map(({ n, at }) => `${x(n)},${y(at)}`).join(" ");
  const band = lineOf([
    ...sure.map(({ n, low }) => ({ n, at: low ?? 0 })),
    ...sure.toReversed().map(({ n, high }) => ({ n, at: high ?? 0 })),
  ]);
  const spanOf = (each: Schemas["Estimate"] | undefined) => `${write((each?.low ?? 0) * factor)} to ${write((each?.high ?? 0) * factor)}`;
  const told = `${title.name}: from ${sure[0]?.n} to ${last?.n} replications the interval went from ${spanOf(sure[0])} to ${spanOf(last)}`;
  const { mean, half } = withInterval(last, factor);
  return (
    <figure className="min-w-0 flex-1">
      <figcaption className="text-sm text-ink-2">
        {title.name}, {title.of}{" "}
        <b className="whitespace-nowrap text-ink">
          {mean} {half}
        </b>
      </figcaption>
      <div ref={holder}>
        {sure.length > 1 && (
          <svg width={width} height={HEIGHT} role="img" aria-label={told}>
            <polygon points={band} fill="var(--marker-soft)" />
            <polyline
              points={lineOf(sure.map(({ n, mean: at }) => ({ n, at: at ?? 0 })))}
              fill="none"
              stroke="var(--ink)"
              strokeWidth={1.6}
            />
          </svg>
        )}
      </div>
    </figure>
  );
}
