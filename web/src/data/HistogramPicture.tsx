import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import { PlotFigure } from "../charts/PlotFigure";
import { spanUnit } from "../study/values/spans";
import { useWidth } from "../ui/useWidth";

interface HistogramPictureProps {
  /** In minutes, one more than shares. */
  edges: number[];
  shares: number[];
  label: string;
}

const HEIGHT = 150;

/** Shares of times between edges, as bars. */
export function HistogramPicture({ edges, shares, label }: HistogramPictureProps) {
  const [holder, width] = useWidth<HTMLDivElement>(380);
  const options = useMemo((): Plot.PlotOptions => {
    const { unit, minutes } = spanUnit(edges.at(-1) ?? 1);
    const bars = shares.map((share, n) => ({ from: (edges[n] ?? 0) / minutes, to: (edges[n + 1] ?? 0) / minutes, share }));
    return {
      width,
      height: HEIGHT,
      marginLeft: 34,
      marginBottom: 34,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { label: unit, labelArrow: "none", tickSize: 0, ticks: 6 },
      y: { label: null, ticks: 3, tickSize: 0, tickFormat: "%" },
      marks: [
        Plot.rectY(bars, { x1: "from", x2: "to", y: "share", fill: "var(--ink-2)", fillOpacity: 0.6, insetRight: 1 }),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
      ],
    };
  }, [edges, shares, width]);
  return (
    <div ref={holder}>
      <PlotFigure label={label} options={options} />
    </div>
  );
}
