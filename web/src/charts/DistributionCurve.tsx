import * as Plot from "@observablehq/plot";
import { type ReactNode, useMemo } from "react";
import type { Described } from "../api/queries";
import { inMeasure } from "../study/values/distributions";
import { inUnit, MINUTES, type Unit } from "../study/values/durations";
import { PlotFigure } from "./PlotFigure";

interface DistributionCurveProps {
  described: Described | undefined;
  /** The unit that was typed; plain numbers have none. */
  unit: Unit | null;
  colour: string;
  children: ReactNode;
}

/**
 * The shape of a distribution with its mean and its middle 90 %, in the unit that was typed. What stands beside it stays
 * in place when the curve arrives, so that nobody who is at it is put off.
 */
export function DistributionCurve({ described, unit, colour, children }: DistributionCurveProps) {
  const options = useMemo(
    (): Plot.PlotOptions | null => (described?.points.length ? curveOptions(described, unit, colour) : null),
    [described, colour, unit],
  );
  const shown = options && described;
  return (
    <div className={shown ? "mt-0.5 flex items-center gap-3" : ""}>
      {shown && <PlotFigure label={`Curve with its mean at ${inMeasure(shown.mean, unit)}`} options={options} />}
      <div className={shown ? "whitespace-nowrap text-sm text-ink-2" : ""}>
        {shown && <MeanAndMiddle {...shown} unit={unit} />}
        {children}
      </div>
    </div>
  );
}

function MeanAndMiddle({ mean, low, high, unit }: Pick<Described, "mean" | "low" | "high"> & { unit: Unit | null }) {
  const inOne = unit ? MINUTES[unit] : 1;
  return (
    <>
      mean <b className="text-ink">{inMeasure(round(mean), unit)}</b>
      <br />
      90 % in {round(low / inOne)}
      {low < 0 ? " to " : "–"}
      {round(high / inOne)} {unit}
      <br />
    </>
  );
}

function curveOptions({ points, separate, mean }: Described, unit: Unit | null, colour: string): Plot.PlotOptions {
  const perUnit = unit ? Number.parseFloat(inUnit(1e6, unit)) / 1e6 : 1;
  const shown = points.map(({ at, weight }) => ({ x: at * perUnit, y: weight }));
  const area = [
    Plot.areaY(shown, { x: "x", y: "y", fill: colour, fillOpacity: 0.14 }),
    Plot.lineY(shown, { x: "x", y: "y", stroke: colour, strokeWidth: 2 }),
  ];
  return {
    width: 170,
    height: 66,
    margin: 4,
    marginBottom: 18,
    marginLeft: 10,
    marginRight: 14,
    style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
    x: {
      label: null,
      ticks: 4,
      tickSize: 0,
      tickPadding: 3,
      domain: [Math.min(0, shown[0]?.x ?? 0), Math.max(shown.at(-1)?.x ?? 1, separate ? 1e-9 : 0)],
      clamp: true,
    },
    y: { axis: null, domain: [0, 1.05 * Math.max(...shown.map((point) => point.y))] },
    marks: [
      ...(separate ? [Plot.ruleX(shown, { x: "x", y: "y", stroke: colour, strokeWidth: 4 })] : area),
      Plot.ruleX([mean * perUnit], { stroke: "var(--ink)", strokeDasharray: "3 3" }),
      Plot.ruleY([0], { stroke: "var(--ink)" }),
    ],
  };
}

/** Enough digits to judge by. */
function round(total: number): number {
  return Number(total.toPrecision(2 + Math.max(0, Math.floor(Math.log10(Math.max(total, 1))))));
}
