import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { scaleOf } from "../study/values/scales";
import { FRAME } from "./frame";

interface SpreadChartProps {
  distributions: Schemas["Distributions"];
  title: Schemas["Title"];
  /** The baseline's and the other's. */
  names: [string, string];
}

/** A share beyond the picture is told from here on. */
const LEAST_TOLD = 0.0005;

/** How a figure spreads in two scenarios: the baseline as an area, the other as a line over it. */
export function SpreadChart({ distributions, title, names }: SpreadChartProps) {
  const options = useMemo(() => drawn(distributions, title), [distributions, title]);
  const beyond = [distributions.first.beyond, distributions.other.beyond];
  return (
    <figure>
      <PlotFigure label={`How ${names[1]} spreads over ${names[0]}`} options={options} />
      <figcaption className="text-sm text-ink-2">
        <span aria-hidden className="mr-1.5 inline-block h-2.5 w-4 bg-ink-3 opacity-60" />
        {names[0]}
        <span aria-hidden className="mr-1.5 ml-4 inline-block h-[3px] w-4 bg-ink align-middle" />
        {names[1]}
        {beyond.some((share) => share > LEAST_TOLD) && (
          <span className="mt-1 block">Beyond the picture are {beyond.map((share) => `${(100 * share).toFixed(1)} %`).join(" and ")}.</span>
        )}
      </figcaption>
    </figure>
  );
}

function drawn({ of, start, width, first, other }: Schemas["Distributions"], title: Schemas["Title"]): Plot.PlotOptions {
  const { factor } = scaleOf(title);
  const isCases = of === "cases";
  const edge = (n: number) => (start + n * width) * (isCases ? 1 : factor);
  const inBins = ({ bins }: Schemas["Shares"]) => bins.map((share, n) => ({ from: edge(n), to: edge(n + 1), share: 100 * share }));
  const outline = inBins(other).flatMap(({ from, to, share }) => [
    { x: from, y: share },
    { x: to, y: share },
  ]);
  const high = Math.max(...first.bins, ...other.bins, 0.01) * 100 * 1.1;
  return {
    ...FRAME,
    x: { label: isCases ? "minutes" : `${title.name}, ${title.of}`, labelArrow: "none", labelAnchor: "right", ticks: 5, tickSize: 4 },
    y: { label: isCases ? "% of cases" : "% of replications", labelArrow: "none", ticks: 4, tickSize: 0, domain: [0, high] },
    marks: [
      Plot.rectY(inBins(first), { x1: "from", x2: "to", y: "share", fill: "var(--ink-3)", fillOpacity: 0.6 }),
      Plot.line(outline, { x: "x", y: "y", stroke: "var(--ink)", strokeWidth: 2 }),
      Plot.ruleY([0], { stroke: "var(--ink)" }),
    ],
  };
}
