import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import { DAYS } from "../study/values/days";
import { PlotFigure } from "./PlotFigure";

const HOURS = 168;
const MIDDAY = 12;
/** A narrower picture has short names of days. */
const WIDE = 600;

export interface WeekSeries {
  /** One value for each hour of the week. */
  values: number[];
  look: "ground" | "area" | "line" | "marks";
  /** Between which ends each value lies, drawn as whiskers. */
  ends?: { low: number[]; high: number[] };
}

interface WeekChartProps {
  label: string;
  unit: string;
  series: WeekSeries[];
  width: number;
  height: number;
  /** Whether the names of the days stand below. */
  days?: boolean;
}

/** An ordinary week hour by hour: what is expected as an area, what came as marks, a limit as a line. */
export function WeekChart({ label, unit, series, width, height, days }: WeekChartProps) {
  const options = useMemo((): Plot.PlotOptions => {
    const most = Math.max(1, ...series.flatMap((each) => [...each.values, ...(each.ends?.high ?? [])]));
    return {
      width,
      height,
      marginLeft: 40,
      marginRight: 8,
      marginTop: 20,
      marginBottom: days ? 24 : 8,
      style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
      x: { domain: [0, HOURS], axis: null },
      y: { domain: [0, most * 1.08], ticks: 3, tickSize: 0, label: unit, labelArrow: "none", labelAnchor: "top", labelOffset: 38 },
      marks: [
        Plot.ruleX(
          DAYS.map((_, day) => day * 24),
          { stroke: "var(--rule)" },
        ),
        ...series.map(drawn),
        ...series.flatMap(({ values, ends }) => (ends ? [whiskers(values, ends)] : [])),
        Plot.ruleY([0], { stroke: "var(--ink)" }),
        ...(days
          ? [
              Plot.text(
                DAYS.map((day, n) => ({ x: n * 24 + MIDDAY, text: width < WIDE ? day.short : day.name })),
                { x: "x", text: "text", frameAnchor: "bottom", dy: 20, fill: "var(--ink-2)" },
              ),
            ]
          : []),
      ],
    };
  }, [series, unit, width, height, days]);
  return <PlotFigure label={label} options={options} />;
}

function whiskers(values: number[], { low, high }: { low: number[]; high: number[] }): Plot.Markish {
  const shown = values.map((y, hour) => ({ x: hour + 0.5, y, low: low[hour] ?? y, high: high[hour] ?? y })).filter(({ y }) => y > 0);
  return Plot.ruleX(shown, { x: "x", y1: "low", y2: "high", stroke: "var(--ink-2)", strokeOpacity: 0.6 });
}

function drawn({ values, look }: WeekSeries): Plot.Markish {
  const steps = values.map((y, hour) => ({ x1: hour, x2: hour + 1, x: hour + 0.5, y }));
  switch (look) {
    case "ground":
      return Plot.rectY(steps, { x1: "x1", x2: "x2", y: "y", fill: "var(--rule)" });
    case "area":
      return Plot.rectY(steps, { x1: "x1", x2: "x2", y: "y", fill: "var(--ink-2)", fillOpacity: 0.55 });
    case "line":
      return Plot.lineY([...steps.map(({ x1, y }) => ({ x: x1, y })), { x: HOURS, y: values.at(-1) ?? 0 }], {
        x: "x",
        y: "y",
        curve: "step-after",
        stroke: "var(--ink)",
        strokeWidth: 2,
      });
    case "marks":
      return Plot.dot(
        steps.filter((step) => step.y > 0),
        { x: "x", y: "y", r: 2, fill: "var(--sheet)", stroke: "var(--ink)", strokeWidth: 1.3 },
      );
  }
}
