import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import { type Described, useDescribed } from "../api/queries";
import { PlotFigure } from "../charts/PlotFigure";
import { spanUnit } from "../study/values/spans";
import type { Fitted } from "./useProposals";

interface FitPictureProps {
  fitted: Fitted;
  /** The distribution that the study has, and the shape that would be taken; undefined where it has no curve. */
  old: unknown;
  found: unknown;
  /** By how much times of the log are multiplied to be what the study has. */
  factor: number;
  width: number;
}

const HEIGHT = 170;
const LOOK = { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" };

/** The times of a log as bars, with the curve of the shape that would be taken and of the one that the study has. */
export function FitPicture({ fitted, old, found, factor, width }: FitPictureProps) {
  const before = useDescribed(old, "time").data;
  const next = useDescribed(found, "time").data;
  const hasOld = typeof old === "object" && old !== null && "dist" in old;
  const options = useMemo((): Plot.PlotOptions => {
    const { unit, minutes } = spanUnit(fitted.edges.at(-1) ?? 1);
    const bin = (fitted.edges[1] ?? 1) - (fitted.edges[0] ?? 0);
    const bars = fitted.histogram.map((share, n) => ({
      from: (fitted.edges[n] ?? 0) / minutes,
      to: (fitted.edges[n + 1] ?? 0) / minutes,
      share,
    }));
    const curve = (described: Described | undefined, scale: number) =>
      described?.separate ? [] : (described?.points ?? []).map(({ at, weight }) => ({ x: at / scale / minutes, y: weight * scale * bin }));
    const last = bars.at(-1)?.to ?? 1;
    const within = (points: { x: number; y: number }[]) => points.filter(({ x }) => x <= last);
    return {
      width,
      height: HEIGHT,
      marginLeft: 34,
      marginBottom: 32,
      style: LOOK,
      x: { label: unit, labelArrow: "none", tickSize: 0, ticks: 6, domain: [0, last] },
      y: { label: null, ticks: 3, tickSize: 0, tickFormat: "%" },
      marks: [
        Plot.rectY(bars, { x1: "from", x2: "to", y: "share", fill: "var(--ink-3)", fillOpacity: 0.45, insetRight: 1 }),
        ...(hasOld
          ? [Plot.lineY(within(curve(before, factor)), { x: "x", y: "y", stroke: "var(--ink-2)", strokeWidth: 2, strokeDasharray: "4 4" })]
          : []),
        Plot.lineY(within(curve(found ? next : undefined, 1)), { x: "x", y: "y", stroke: "var(--ink)", strokeWidth: 2.5 }),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
      ],
    };
  }, [fitted, before, next, hasOld, found, factor, width]);
  return (
    <>
      <PlotFigure label="The times of the log with the shape that would be taken" options={options} />
      <p className="text-sm text-ink-2">
        Bars are the log’s times; solid, the shape chosen below{hasOld && "; dashed, what the study has"}.
      </p>
    </>
  );
}

/** Times at equal shares: by the shape across, as they were seen upwards. On the line both are the same. */
export function QuantilesPicture({ fit, width }: { fit: Fitted["fits"][number]; width: number }) {
  const options = useMemo((): Plot.PlotOptions => {
    const pairs = fit.pairs as [number, number][];
    const most = Math.max(1e-9, ...pairs.flat());
    const { unit, minutes } = spanUnit(most);
    const ends = { domain: [0, (most / minutes) * 1.05], ticks: 5, tickSize: 0 };
    return {
      width,
      height: HEIGHT,
      marginLeft: 34,
      marginBottom: 32,
      style: LOOK,
      x: { ...ends, label: `by the shape, ${unit}`, labelArrow: "none" },
      y: { ...ends, label: `seen, ${unit}`, labelArrow: "none", labelAnchor: "top", labelOffset: 30 },
      marks: [
        Plot.line(
          [
            [0, 0],
            [most / minutes, most / minutes],
          ],
          { stroke: "var(--ink-3)" },
        ),
        Plot.dot(
          pairs.map(([shape, seen]) => ({ x: shape / minutes, y: seen / minutes })),
          { x: "x", y: "y", r: 2.4, fill: "var(--ink)" },
        ),
      ],
    };
  }, [fit, width]);
  return <PlotFigure label="Times at equal shares, by the shape and as seen" options={options} />;
}
