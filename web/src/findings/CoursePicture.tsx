import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { Picture } from "../ui/Picture";
import { useWidth } from "../ui/useWidth";
import { type Shown, useCourse } from "./shown";

const HEIGHT = 260;

/** The cases inside over the run: the mean over the replications, and the band that holds eight of ten. */
export function CoursePicture({ shown, settled }: { shown: Shown; settled: string }) {
  const [holder, width] = useWidth<HTMLDivElement>(820);
  const course = useCourse(shown);
  const options = useMemo(() => (course && course.mean.length > 0 ? optionsOf(course, width) : null), [course, width]);
  return (
    <Picture title="Cases inside over the run" aside="mean and the range of eight replications in ten" table={() => tableOf(course)}>
      <div ref={holder} style={{ minHeight: HEIGHT }}>
        {options && <PlotFigure label="Cases inside over the run" options={options} />}
        {course?.mean.length === 0 && <p className="text-ink-2">A run of this length keeps its course by the week only.</p>}
      </div>
      <p className="mt-1 text-sm text-ink-2">{settled}</p>
    </Picture>
  );
}

function optionsOf(course: Schemas["Course"], width: number): Plot.PlotOptions {
  const unit = course.days ? 1440 : 60;
  const at = (n: number) => (n * course.every) / unit;
  const points = course.mean.map((mean, n) => ({ x: at(n), mean, low: course.low[n], high: course.high[n] }));
  const warmUp = course.warm_up / unit;
  const proposed = course.proposed === null || course.proposed <= course.warm_up ? [] : [course.proposed / unit];
  const words = { dy: 8, dx: 4, textAnchor: "start", lineAnchor: "top", frameAnchor: "top-left", fill: "var(--ink)" } as const;
  return {
    width,
    height: HEIGHT,
    marginLeft: 48,
    marginRight: 16,
    marginBottom: 36,
    style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
    x: { label: course.days ? "days" : "hours", labelArrow: "none", labelAnchor: "right", tickSize: 4 },
    y: { label: "cases inside", labelArrow: "none", ticks: 5, tickSize: 0, zero: true },
    marks: [
      ...(warmUp > 0 ? [Plot.rect([0], { x1: 0, x2: warmUp, fill: "var(--value)" }), Plot.text(["warm-up"], { x: 0, ...words })] : []),
      Plot.areaY(points, { x: "x", y1: "low", y2: "high", fill: "var(--ink)", fillOpacity: 0.16 }),
      Plot.lineY(points, { x: "x", y: "mean", stroke: "var(--ink)", strokeWidth: 1.5 }),
      Plot.ruleX(proposed, { stroke: "var(--ink)", strokeDasharray: "3 3" }),
      Plot.text(
        proposed.map((x) => ({ x, text: "leave out until here" })),
        { x: "x", text: "text", ...words },
      ),
      Plot.ruleY([0], { stroke: "var(--ink)" }),
    ],
  };
}

function tableOf(course: Schemas["Course"] | undefined) {
  const rows = course?.mean.map((mean, n) => [n * course.every, mean, course.low[n] ?? null, course.high[n] ?? null]) ?? [];
  return { head: ["from, min of the run", "cases inside, mean", "low, 10 %", "high, 90 %"], rows };
}
