import * as Plot from "@observablehq/plot";
import { type ReactNode, useMemo } from "react";
import { curveOf, inMeasure, type Shape, typedUnit } from "../study/values/distributions";
import { inUnit } from "../study/values/durations";
import { PlotFigure } from "./PlotFigure";

interface DistributionCurveProps {
  distribution: Shape | string | number;
  colour: string;
  children: ReactNode;
}

/** The shape of a distribution with its mean and its middle 90 %, in the unit that was typed. */
export function DistributionCurve({ distribution, colour, children }: DistributionCurveProps) {
  const unit = typedUnit(distribution);
  const curve = useMemo(() => (typeof distribution === "object" ? curveOf(distribution) : null), [distribution]);
  const options = useMemo((): Plot.PlotOptions | null => {
    if (!curve) return null;
    const perUnit = unit ? Number.parseFloat(inUnit(1e6, unit)) / 1e6 : 1;
    const points = curve.points.map(({ x, y }) => ({ x: x * perUnit, y }));
    return {
      width: 170,
      height: 66,
      margin: 4,
      marginBottom: 18,
      marginLeft: 10,
      marginRight: 14,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { label: null, ticks: 4, tickSize: 0, tickPadding: 3, domain: [Math.min(0, points[0]?.x ?? 0), points.at(-1)?.x ?? 1], clamp: true },
      y: { axis: null, domain: [0, 1.05 * Math.max(...points.map((point) => point.y))] },
      marks: [
        ...(curve.separate
          ? [Plot.ruleX(points, { x: "x", y: "y", stroke: colour, strokeWidth: 4 })]
          : [Plot.areaY(points, { x: "x", y: "y", fill: colour, fillOpacity: 0.14 }), Plot.lineY(points, { x: "x", y: "y", stroke: colour, strokeWidth: 2 })]),
        Plot.ruleX([curve.mean * perUnit], { stroke: "var(--ink)", strokeDasharray: "3 3" }),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
      ],
    };
  }, [curve, colour, unit]);
  if (!curve || !options) return children;
  return (
    <div className="mt-0.5 flex items-center gap-3">
      <PlotFigure label={`Curve with its mean at ${inMeasure(curve.mean, unit)}`} options={options} />
      <div className="whitespace-nowrap text-sm text-ink-2">
        mean <b className="text-ink">{inMeasure(round(curve.mean), unit)}</b>
        <br />
        90 % in {String(inMeasure(round(curve.low), unit)).split(" ")[0]}
        {curve.low < 0 ? " to " : "–"}
        {inMeasure(round(curve.high), unit)}
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
