import * as Plot from "@observablehq/plot";
import { useMemo } from "react";
import type { Schemas } from "../api/client";
import { PlotFigure } from "../charts/PlotFigure";
import { scaleOf } from "./scales";

type Comparison = Schemas["Comparison"];

interface Point {
  name: string;
  x: number;
  y: number;
  low: number;
  high: number;
  isEfficient: boolean;
}

interface TradeOffChartProps {
  comparison: Comparison;
  across: Schemas["MeasureRow"];
  up: Schemas["MeasureRow"];
}

const MOST_NAMED = 8;

/** Two figures of every scenario against each other; those that no other beats in both are filled, and joined. */
export function TradeOffChart({ comparison, across, up }: TradeOffChartProps) {
  const options = useMemo(() => drawn(pointsOf(comparison, across, up), across, up), [comparison, across, up]);
  return <PlotFigure label={`${up.title.name} against ${across.title.name}`} options={options} />;
}

function pointsOf({ columns, trade_off }: Comparison, across: Schemas["MeasureRow"], up: Schemas["MeasureRow"]): Point[] {
  const [xs, ys] = [scaleOf(across.title), scaleOf(up.title)];
  return columns.flatMap(({ name }, n) => {
    const [x, y] = [across.cells[n]?.figure, up.cells[n]?.figure];
    if (x?.mean == null || y?.mean == null) return [];
    const [low, high] = [y.low ?? y.mean, y.high ?? y.mean].map((end) => end * ys.factor) as [number, number];
    return [{ name, x: x.mean * xs.factor, y: y.mean * ys.factor, low, high, isEfficient: trade_off.efficient.includes(n) }];
  });
}

function drawn(points: Point[], across: Schemas["MeasureRow"], up: Schemas["MeasureRow"]): Plot.PlotOptions {
  const efficient = points.filter((point) => point.isEfficient).toSorted((one, other) => one.x - other.x);
  const named = points.length <= MOST_NAMED ? points : efficient.slice(0, MOST_NAMED);
  const xs = points.map(({ x }) => x);
  const [least, most] = [Math.min(...xs), Math.max(...xs)];
  const room = (most - least || Math.abs(most) || 1) * 0.12;
  const middle = (least + most) / 2;
  const text = { x: "x", y: "y", text: "name", fontWeight: 700, fill: "var(--ink)", stroke: "var(--sheet)", strokeWidth: 4, lineWidth: 11 };
  return {
    width: 300,
    height: 250,
    marginLeft: 40,
    marginRight: 14,
    marginTop: 26,
    marginBottom: 38,
    style: { background: "none", color: "var(--ink-2)", fontSize: "12px", fontFamily: "inherit" },
    x: {
      label: `${across.title.name}, ${across.title.of}`,
      labelArrow: "none",
      labelAnchor: "right",
      ticks: 4,
      tickSize: 4,
      nice: true,
      domain: [least - room, most + room],
    },
    y: { label: `${up.title.name}, ${up.title.of}`, labelArrow: "none", ticks: 4, tickSize: 4, nice: true, zero: true },
    marks: [
      Plot.line(efficient, { x: "x", y: "y", stroke: "var(--marker)", strokeWidth: 6, strokeLinecap: "round" }),
      Plot.ruleX(points, { x: "x", y1: "low", y2: "high", stroke: "var(--ink)" }),
      Plot.dot(points, {
        x: "x",
        y: "y",
        r: 5,
        stroke: "var(--ink)",
        strokeWidth: 2.5,
        fill: (point: Point) => (point.isEfficient ? "var(--ink)" : "var(--sheet)"),
      }),
      Plot.text(
        named.filter(({ x }) => x <= middle),
        { ...text, textAnchor: "start", dx: 9 },
      ),
      Plot.text(
        named.filter(({ x }) => x > middle),
        { ...text, textAnchor: "end", dx: -9 },
      ),
    ],
  };
}
