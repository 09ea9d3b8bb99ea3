import * as Plot from "@observablehq/plot";
import { type ReactNode, useMemo } from "react";
import { curveOf, typedUnit } from "../study/distributions";
import { inUnit } from "../study/durations";
import type { Distribution } from "../study/types";
import { PlotFigure } from "./PlotFigure";

interface DistributionCurveProps {
  distribution: Distribution;
  colour: string;
  children: ReactNode;
}

/** The shape of a distribution with its mean and its middle 90 %, in the unit that was typed. */
export function DistributionCurve({ distribution, colour, children }: DistributionCurveProps) {
  const unit = typedUnit(distribution);
  const curve = useMemo(() => (typeof distribution === "string" ? null : curveOf(distribution)), [distribution]);
  const options = useMemo((): Plot.PlotOptions | null => {
    if (!curve) return null;
    const perUnit = Number.parseFloat(inUnit(1e6, unit)) / 1e6;
    const points = curve.points.map(({ x, y }) => ({ x: x * perUnit, y }));
    return {
      width: 170,
      height: 66,
      margin: 4,
      marginBottom: 18,
      marginLeft: 10,
      marginRight: 14,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { label: null, ticks: 4, tickSize: 0, domain: [0, points.at(-1)?.x ?? 1] },
      y: { axis: null, domain: [0, 1.05 * Math.max(...points.map((point) => point.y))] },
      marks: [
        Plot.areaY(points, { x: "x", y: "y", fill: colour, fillOpacity: 0.14 }),
        Plot.lineY(points, { x: "x", y: "y", stroke: colour, strokeWidth: 2 }),
        Plot.ruleX([curve.mean * perUnit], { stroke: "var(--ink)", strokeDasharray: "3 3" }),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
      ],
    };
  }, [curve, colour, unit]);
  if (!curve || !options) return children;
  return (
    <div className="mt-0.5 flex items-center gap-3">
      <PlotFigure label={`Curve with its mean at ${inUnit(curve.mean, unit)}`} options={options} />
      <div className="whitespace-nowrap text-sm text-ink-2">
        mean <b className="text-ink">{inUnit(round(curve.mean), unit)}</b>
        <br />
        90 % in {inUnit(round(curve.low), unit).split(" ")[0]}–{inUnit(round(curve.high), unit)}
        <br />
        {children}
      </div>
    </div>
  );
}

/** Enough digits to judge by. */
function round(total: number): number {
  return Number(total.toPrecision(2 + Math.max(0, Math.floor(Math.log10(Math.max(total, 1))))));
}
