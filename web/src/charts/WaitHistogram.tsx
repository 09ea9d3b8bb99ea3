import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "./PlotFigure";

interface WaitHistogramProps {
  waits: Schemas["Waits"];
  median: number | null;
  ninth: number | null;
}

const MOST_BARS = 40;

/** How long cases waited: a bar per stretch of minutes, the slowest one in a hundred left out. */
export function WaitHistogram({ waits, median, ninth }: WaitHistogramProps) {
  const options = useMemo((): Plot.PlotOptions => {
    const total = waits.counts.reduce((sum, count) => sum + count, 0) || 1;
    const bars = inBars(waits, total);
    const high = Math.max(...bars.map((bar) => bar.share), 1);
    const marks = [
      { x: median, text: "half wait less" },
      { x: ninth, text: "9 in 10 wait less" },
    ].filter((mark): mark is { x: number; text: string } => mark.x !== null);
    return {
      width: 390,
      height: 208,
      marginLeft: 40,
      marginRight: 28,
      marginTop: 30,
      marginBottom: 34,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { label: "minutes waited", labelArrow: "none", labelAnchor: "center", tickSize: 4, ticks: 6 },
      y: { label: "% of cases", labelArrow: "none", labelOffset: 30, ticks: 4, tickSize: 0, domain: [0, high * 1.12] },
      marks: [
        Plot.rectY(bars, { x1: "from", x2: "to", y: "share", fill: "var(--ink)", insetLeft: 0.5, insetRight: 0.5 }),
        Plot.ruleX(marks, { x: "x", stroke: "var(--ink)", strokeDasharray: "3 3" }),
        Plot.text(marks, {
          x: "x",
          y: (_: unknown, n: number) => high * (1.07 - 0.12 * n),
          text: "text",
          textAnchor: "start",
          dx: 5,
          fontWeight: 700,
          fill: "var(--ink)",
          stroke: "var(--paper)",
          strokeWidth: 5,
        }),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
      ],
    };
  }, [waits, median, ninth]);
  return <PlotFigure label="How long they wait: share of cases by minutes waited" options={options} />;
}

function inBars({ width, counts }: Schemas["Waits"], total: number) {
  let seen = 0;
  let end = counts.findIndex((count) => (seen += count) >= 0.99 * total) + 1;
  end = Math.max(end, 1);
  const perBar = Math.max(1, Math.ceil(end / MOST_BARS));
  return Array.from({ length: Math.ceil(end / perBar) }, (_, n) => {
    const part = counts.slice(n * perBar, (n + 1) * perBar);
    const share = (100 * part.reduce((sum, count) => sum + count, 0)) / total;
    return { from: n * perBar * width, to: (n + 1) * perBar * width, share };
  });
}
