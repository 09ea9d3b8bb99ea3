import * as Plot from "@observablehq/plot";
import { type ReactNode, useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { round } from "../study/values/figures";
import { spanUnit } from "../study/values/spans";
import { Choice } from "../ui/Choice";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";
import { type Shown, useSpread } from "./shown";

interface SpreadPictureProps {
  shown: Shown;
  quantities: Schemas["Quantity"][];
  quantity: string;
  onQuantity: (quantity: string) => void;
  height?: number;
}

/** A share of cases with none below this is not drawn apart. */
const LEAST_NONE = 0.005;

/** The same quantity of each case type, side by side, where it is one of cases. */
export function SpreadsOfTypes({ shown, quantities, quantity }: Pick<SpreadPictureProps, "shown" | "quantities" | "quantity">) {
  const [subject, , what] = quantity.split("/");
  const types = quantities.filter((each) => {
    const [of, id, told] = each.quantity.split("/");
    return subject === "type" && of === "type" && id !== "all" && told === what;
  });
  if (types.length < 2) return null;
  return (
    <div className="mt-4 grid grid-cols-2 gap-x-8 gap-y-4 max-[1180px]:grid-cols-1">
      {types.map((each) => (
        <SpreadOf key={each.quantity} shown={shown} quantity={each} />
      ))}
    </div>
  );
}

function SpreadOf({ shown, quantity: { quantity, title } }: { shown: Shown; quantity: Schemas["Quantity"] }) {
  return <Spread title={title.name} aside={null} spread={useSpread(shown, quantity)} height={158} />;
}

/** How the cases spread: those with none apart, then a bar per stretch of minutes, and what lies beyond in words. */
export function SpreadPicture({ shown, quantities, quantity, onQuantity, height = 158 }: SpreadPictureProps) {
  const spread = useSpread(shown, quantity);
  const options = quantities.map(({ quantity: value, title }) => ({ value, label: title.name }));
  const choice = <Choice quiet label="What is spread" value={quantity} options={options} onChoose={onQuantity} />;
  return <Spread title="How long they take" aside={choice} spread={spread} height={height} />;
}

interface SpreadProps {
  title: string;
  aside: ReactNode;
  spread: Schemas["CaseSpread"] | undefined;
  height: number;
}

/** A spread that is known, or not yet. */
export function Spread({ title, aside, spread, height }: SpreadProps) {
  const [holder, width] = useWidth<HTMLDivElement>(400);
  const drawn = useMemo(() => (spread ? optionsOf(spread, width, height) : null), [spread, width, height]);
  return (
    <Picture title={title} aside={aside} table={() => tableOf(spread)}>
      <div ref={holder} style={{ minHeight: height }}>
        {drawn && spread && <PlotFigure label={labelOf(spread)} options={drawn} />}
      </div>
      {spread && <p className="text-sm text-ink-2">{wordsOf(spread)}</p>}
    </Picture>
  );
}

/** How amounts of a spread are written: times in the unit that suits them, money as it is. */
const unitOf = ({ title }: Schemas["CaseSpread"], most: number): { unit: string; minutes: number } =>
  title.unit === "money" ? { unit: title.of.split(", ").at(-1) ?? "", minutes: 1 } : spanUnit(most);

const AXIS: Record<string, string> = { min: "minutes", h: "hours", d: "days" };

const end = (spread: Schemas["CaseSpread"]) => spread.width * spread.bars.length;

/** Half of the cases, nine in ten, and the target with the share that keeps it. */
function marksOf(spread: Schemas["CaseSpread"], unit: { unit: string; minutes: number }) {
  const at = (minutes: number | null | undefined) => (minutes == null || minutes > end(spread) ? null : minutes / unit.minutes);
  const limit = spread.limit?.at_most ?? spread.limit?.at_least;
  const share = spread.within?.mean == null ? "" : `: ${Math.round(100 * spread.within.mean)} of 100 within`;
  const all = [
    { x: at(spread.percentiles.p50?.mean), text: "half", wrong: false },
    { x: at(spread.percentiles.p90?.mean), text: "9 in 10", wrong: false },
    { x: at(limit), text: `target ${limit == null ? "" : round(limit / unit.minutes)} ${unit.unit}${share}`, wrong: true },
  ];
  return all.filter((mark): mark is typeof mark & { x: number } => mark.x !== null && mark.x > 0);
}

function optionsOf(spread: Schemas["CaseSpread"], width: number, height: number): Plot.PlotOptions {
  const unit = unitOf(spread, end(spread));
  const step = spread.width / unit.minutes;
  const last = end(spread) / unit.minutes;
  const bars = spread.bars.map((share, n) => ({ from: n * step, to: (n + 1) * step, share: 100 * share }));
  const apart = { from: -3.4 * step, to: -1.2 * step, share: 100 * spread.none };
  const high = Math.max(...bars.map((bar) => bar.share), 0.1);
  const ceiling = spread.none >= LEAST_NONE ? Math.min(Math.max(high, apart.share), 2.5 * high) : high;
  const isCut = apart.share > ceiling;
  const hasNone = spread.none >= LEAST_NONE;
  const marks = marksOf(spread, unit);
  const words = marks.map((mark, n) => ({ ...mark, y: ceiling * (1.24 - 0.16 * n), left: mark.x > 0.62 * last }));
  const text = { x: "x", y: "y", text: "text", dy: -1, stroke: "var(--paper)", strokeWidth: 5, fontWeight: 700 } as const;
  return {
    width,
    height,
    marginLeft: 44,
    marginRight: 12,
    marginTop: 18,
    marginBottom: 34,
    style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit", overflow: "visible" },
    x: {
      label: AXIS[unit.unit] ?? unit.unit,
      labelArrow: "none",
      labelAnchor: "right",
      tickSize: 4,
      ticks: Math.max(3, Math.round(width / 70)),
      domain: [hasNone ? -4 * step : 0, last],
      tickFormat: (value: number) => (value < 0 ? "" : value.toLocaleString("en")),
    },
    y: { label: "% of cases", labelArrow: "none", labelOffset: 36, ticks: 4, tickSize: 0, domain: [0, ceiling * 1.3] },
    marks: [
      Plot.rectY(bars, { x1: "from", x2: "to", y: "share", fill: "var(--ink)", insetLeft: 0.5, insetRight: 0.5 }),
      ...(hasNone
        ? [
            Plot.rectY([{ ...apart, share: Math.min(apart.share, ceiling) }], {
              x1: "from",
              x2: "to",
              y: "share",
              fill: "var(--paper)",
              stroke: "var(--ink)",
            }),
            Plot.text([apart], {
              x: (bar: typeof apart) => (bar.from + bar.to) / 2,
              y: Math.min(apart.share, ceiling),
              text: (bar: typeof apart) => `${Math.round(bar.share)} %${isCut ? " ↑" : ""}\nnone`,
              lineAnchor: "bottom",
              dy: -4,
              fill: "var(--ink)",
            }),
          ]
        : []),
      Plot.ruleX(marks, {
        x: "x",
        stroke: (mark: (typeof marks)[number]) => (mark.wrong ? "var(--wrong)" : "var(--ink)"),
        strokeDasharray: "3 3",
      }),
      ...[false, true].map((left) =>
        Plot.text(
          words.filter((mark) => mark.left === left),
          {
            ...text,
            textAnchor: left ? "end" : "start",
            dx: left ? -5 : 5,
            fill: (mark: (typeof words)[number]) => (mark.wrong ? "var(--wrong)" : "var(--ink)"),
          },
        ),
      ),
      Plot.ruleY([0], { stroke: "var(--ink)" }),
    ],
  };
}

const percentile = (spread: Schemas["CaseSpread"], name: string) => spread.percentiles[name]?.mean ?? 0;

function wordsOf(spread: Schemas["CaseSpread"]): string {
  const unit = unitOf(spread, percentile(spread, "p90"));
  const told = (minutes: number) => `${round(minutes / unit.minutes)} ${unit.unit}`;
  const words = `Half within ${told(percentile(spread, "p50"))}, 9 in 10 within ${told(percentile(spread, "p90"))}`;
  return spread.beyond_words ? `${words}; ${spread.beyond_words}.` : `${words}.`;
}

const labelOf = (spread: Schemas["CaseSpread"]) => `${spread.title.name}: ${wordsOf(spread)}`;

function tableOf(spread: Schemas["CaseSpread"] | undefined) {
  const bars = spread?.bars.map((share, n) => [n * spread.width, (n + 1) * spread.width, 100 * share]) ?? [];
  const none = spread?.none ? [[0, 0, 100 * spread.none]] : [];
  const unit = spread?.title.unit === "money" ? "money" : "min";
  return { head: [`from, ${unit}`, `to, ${unit}`, "cases, %"], rows: [...none, ...bars] };
}
